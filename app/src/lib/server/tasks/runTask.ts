import { availableParallelism } from 'node:os';
import { LRUCache } from 'lru-cache';
import { settleSoon } from '../imports/importFile';
import { settings } from '../settings';
import { TASKS, type TaskInput, type TaskName } from './kinds';
import { Lane, type TaskClient } from './lane';
import type { TaskKind } from './taskKind';

/*
 * Light tasks have threads of their own, so that none of them waits for heavy ones; and heavy threads are the less urgent
 * ones to the operating system, so that they do not slow light ones down where there are more threads than processors. What
 * was taken for light and is not begins anew as a heavy task.
 */

/** Records that a task goes through and is light. */
const LIGHT_RECORDS = 400_000;
/** Where it takes longer by the clock, it was not; a thread that has just begun is slow, and so is a machine at work. */
const LIGHT_MS = 600;

let lanes: { light: Lane; heavy: Lane } | undefined;

/** Starts the threads, so that the first page finds them running. */
export function openLanes(): { light: Lane; heavy: Lane } {
  const milliseconds = settings.limits.taskSeconds * 1000;
  return (lanes ??= {
    light: new Lane({ isLight: true, threads: 2, nice: 0, milliseconds: LIGHT_MS }),
    heavy: new Lane({ isLight: false, threads: Math.max(1, availableParallelism() - 1), nice: 10, milliseconds }),
  });
}

export async function closeLanes(): Promise<void> {
  const open = lanes;
  lanes = undefined;
  await Promise.all([open?.light.close(), open?.heavy.close()]);
}

let tasks = 0;

/** Tasks that are worked on or wait for their turn. */
export const tasksInHand = (): number => tasks;

/** Answers of the last tasks whose kind says so: pages ask for the same again and again. */
const answers = new LRUCache<string, Uint8Array>({
  maxSize: settings.limits.answersMegabytes * 2 ** 20,
  sizeCalculation: ({ length }) => length + 1,
});

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
  const { light, heavy } = openLanes();
  tasks++;
  let body: Uint8Array;
  try {
    const quick = kind.records(input) <= LIGHT_RECORDS ? await light.run(name, input, who) : undefined;
    body = quick ?? (await heavy.run(name, input, who))!;
  } finally {
    tasks--;
  }
  if (key !== undefined) answers.set(key, body);
  if (kind.writes) settleSoon();
  return body;
}
