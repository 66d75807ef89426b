import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { LRUCache } from 'lru-cache';
import { Piscina } from 'piscina';
import { refuse, Refusal } from '$lib/api/problems';
import { settings } from '../settings';
import { SharedCourse, StoppedError } from './course';
import { FairQueue, type QueuedBy } from './fairQueue';
import { TASKS, type TaskInput, type TaskName } from './kinds';
import type { TaskKind } from './taskKind';
import type { TaskOrder, TaskOutcome } from './taskThread';

/*
 * Light tasks have threads of their own, so that none of them waits for heavy ones; and heavy threads are the less urgent
 * ones to the operating system, so that they do not slow light ones down where there are more threads than processors. What
 * was taken for light and is not begins anew as a heavy task.
 */

/** Records that a task goes through and is light. */
const LIGHT_RECORDS = 400_000;
const LIGHT_MS = 150;
/** A task that was stopped and goes on is ended with its thread after so long. */
const GRACE_MS = 3000;
/** Steps down in the urgency of a thread. */
const HEAVY_NICE = 10;

type Lane = 'light' | 'heavy';

/** Answers of the last tasks whose kind says so: pages ask for the same again and again. */
const answers = new LRUCache<string, Uint8Array>({
  maxSize: settings.limits.answersMegabytes * 2 ** 20,
  sizeCalculation: ({ length }) => length + 1,
});

/** Threads, light and heavy. */
let lanes: Record<Lane, Piscina> | undefined;

/** Starts the threads, so that the first page finds them running. */
export function openLanes(): Record<Lane, Piscina> {
  const lane = (threads: number, niceIncrement: number) =>
    new Piscina({
      filename: join(resolve(settings.JAUNTY_JOBS), 'taskThread.js'),
      minThreads: 1,
      maxThreads: threads,
      niceIncrement,
      maxQueue: settings.limits.waiting,
      taskQueue: new FairQueue(),
      idleTimeout: Infinity,
      // a thread that sleeps in an atomic wait would keep its timers waiting
      atomics: 'disabled',
    });
  return (lanes ??= { light: lane(2, 0), heavy: lane(Math.max(1, availableParallelism() - 1), HEAVY_NICE) });
}

/** Ends the threads, each after it has closed its store. */
export async function closeLanes(): Promise<void> {
  if (!lanes) return;
  const open = Object.values(lanes);
  lanes = undefined;
  await Promise.all(
    open.map(async (pool) => {
      await Promise.all(pool.threads.map(() => pool.run('close').catch(() => undefined)));
      await pool.destroy();
    }),
  );
}

/** Who asks, and a signal that says when the answer is not wanted any more. */
export interface TaskClient {
  client: string;
  signal?: AbortSignal;
}

/**
 * Has a task done by a thread.
 * @throws {Refusal} where it is refused, takes too long, or too many wait
 * @throws {StoppedError} where its client has gone
 */
export async function runTask<Name extends TaskName>(
  name: Name,
  input: TaskInput<Name>,
  who: TaskClient,
): Promise<Uint8Array> {
  const kind = TASKS[name] as unknown as TaskKind<typeof input>;
  const key = kind.answerKey && `${name} ${kind.answerKey(input)}`;
  const known = key === undefined ? undefined : answers.get(key);
  if (known) return known;
  const light = kind.records(input) <= LIGHT_RECORDS ? await runIn('light', name, input, who) : undefined;
  const body = light ?? (await runIn('heavy', name, input, who))!;
  if (key !== undefined) answers.set(key, body);
  return body;
}

/** @returns nothing where the task has turned out not to be light */
async function runIn(
  lane: Lane,
  name: TaskName,
  input: TaskInput<TaskName>,
  { client, signal }: TaskClient,
): Promise<Uint8Array | undefined> {
  if (signal?.aborted) throw new StoppedError();
  const course = new SharedCourse();
  const queued: QueuedBy = { client, isWaiting: false };
  const end = new AbortController();
  let grace: ReturnType<typeof setTimeout> | undefined;
  const stop = () => {
    course.stop(); // the thread sees it at the next occasion
    if (queued.isWaiting) end.abort();
    else grace ??= setTimeout(() => end.abort(), GRACE_MS); // one that sees nothing is ended
  };
  signal?.addEventListener('abort', stop);
  const isLight = lane === 'light';
  const milliseconds = isLight ? LIGHT_MS : settings.limits.taskSeconds * 1000;
  const order: TaskOrder = { name, input, course: course.memory, milliseconds, isLight };
  try {
    const running = openLanes()[lane].run(
      { ...order, [Piscina.queueOptionsSymbol]: queued },
      { signal: end.signal },
    ) as Promise<TaskOutcome>;
    const outcome = await running;
    switch (outcome.kind) {
      case 'done':
        return outcome.body;
      case 'refused':
        throw new Refusal(outcome.problem);
      case 'not-light':
        return undefined;
      case 'stopped':
        throw new StoppedError();
      default:
        return outcome satisfies never;
    }
  } catch (error) {
    if (end.signal.aborted) throw new StoppedError();
    if (error instanceof Error && error.message === 'Task queue is at limit')
      throw refuse('too-busy', 'Too many requests wait for their turn. Try again in a moment.', {}, { cause: error });
    throw error;
  } finally {
    clearTimeout(grace);
    signal?.removeEventListener('abort', stop);
  }
}
