import { join, resolve } from 'node:path';
import { Piscina } from 'piscina';
import { refuse, Refusal } from '$lib/api/problems';
import { settings } from '../settings';
import { THREAD_LIMITS, threadFailure } from '../threadLimits';
import { SharedCourse, StoppedError } from './course';
import { FairQueue } from './fairQueue';
import type { TaskInput, TaskName } from './kinds';
import type { TaskOrder, TaskOutcome } from './taskThread';

/** A task that was stopped and goes on is ended with its thread after so long. */
const GRACE_MS = 3000;

/** Who asks, and a signal that says when the answer is not wanted any more. */
export interface TaskClient {
  client: string;
  signal?: AbortSignal;
  /** By which the client sees how far it is. */
  course?: SharedCourse;
}

interface LaneOptions {
  isLight: boolean;
  threads: number;
  /** Steps down in the urgency of its threads. */
  nice: number;
  /** The longest that a task may take. */
  milliseconds: number;
}

/** Some threads, and the tasks that wait for one of them. */
export class Lane {
  private readonly pool: Piscina;
  private readonly waiting = new FairQueue<() => void>();
  private running = 0;

  constructor(private readonly options: LaneOptions) {
    this.pool = new Piscina({
      filename: join(resolve(settings.JAUNTY_JOBS), 'taskThread.js'),
      minThreads: options.isLight ? 1 : 0, // heavy tasks can wait for a thread to start
      maxThreads: options.threads,
      ...THREAD_LIMITS,
      niceIncrement: options.nice,
      idleTimeout: Infinity,
      // a thread that sleeps in an atomic wait would keep its timers waiting
      atomics: 'disabled',
    });
  }

  get threads(): number {
    return this.options.threads;
  }

  /** Whether a task begins at once. */
  get isFree(): boolean {
    return this.running < this.threads;
  }

  /**
   * Has a task done.
   * @returns nothing where it has turned out not to be light
   * @throws {Refusal} where it is refused, takes too long, or too many wait
   * @throws {StoppedError} where its client has gone
   */
  async run(name: TaskName, input: TaskInput<TaskName>, who: TaskClient): Promise<Uint8Array | undefined> {
    await this.turn(who);
    try {
      return await this.carryOut(name, input, who);
    } finally {
      this.running--;
      this.waiting.shift()?.();
    }
  }

  /** Ends the threads, each after it has closed its store. */
  async close(): Promise<void> {
    await Promise.all(this.pool.threads.map(() => this.pool.run('close').catch(() => undefined)));
    await this.pool.destroy();
  }

  /** Waits until a thread is free. */
  private async turn({ client, signal }: TaskClient): Promise<void> {
    if (signal?.aborted) throw new StoppedError();
    if (this.isFree) {
      this.running++;
      return;
    }
    if (this.waiting.size >= settings.limits.waiting)
      throw refuse('too-busy', 'Too many requests wait for their turn. Try again in a moment.');
    await new Promise<void>((done, stopped) => {
      const begin = () => {
        signal?.removeEventListener('abort', leave);
        this.running++;
        done();
      };
      const leave = () => {
        if (this.waiting.remove(client, begin)) stopped(new StoppedError());
      };
      signal?.addEventListener('abort', leave, { once: true });
      this.waiting.push(client, begin);
    });
  }

  private async carryOut(
    name: TaskName,
    input: TaskInput<TaskName>,
    { signal, course = new SharedCourse() }: TaskClient,
  ): Promise<Uint8Array | undefined> {
    const end = new AbortController();
    let grace: ReturnType<typeof setTimeout> | undefined;
    const stop = () => {
      course.stop(); // the thread sees it at the next occasion
      grace ??= setTimeout(() => end.abort(), GRACE_MS); // one that sees nothing is ended
    };
    signal?.addEventListener('abort', stop, { once: true });
    // a task that does not call its course cannot stop by itself
    let isOverdue = false;
    const { taskSeconds } = settings.limits;
    const overdue = setTimeout(
      () => {
        isOverdue = true;
        end.abort();
      },
      taskSeconds * 1000 + GRACE_MS,
    );
    const { isLight, milliseconds } = this.options;
    const order: TaskOrder = { name, input, course: course.memory, milliseconds, isLight };
    try {
      const outcome = (await this.pool.run(order, { signal: end.signal })) as TaskOutcome;
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
      if (isOverdue) throw refuse('too-much-work', `This takes longer than ${taskSeconds} seconds.`);
      throw end.signal.aborted ? new StoppedError() : threadFailure(error);
    } finally {
      clearTimeout(grace);
      clearTimeout(overdue);
      signal?.removeEventListener('abort', stop);
    }
  }
}
