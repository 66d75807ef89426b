import { join, resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { askingThread } from '$lib/compute/otherThread';
import type { Problem } from '$lib/api/problems';
import { problemOf } from '../http/problem';
import { settings } from '../settings';
import { THREAD_LIMITS } from '../threadLimits';
import { connectStore } from '../store/openStore';
import { useOtherThread } from '$lib/works/columns/run';
import { Course, NotLightError, SharedCourse, StoppedError } from './course';
import { TASKS, type TaskInput, type TaskName } from './kinds';
import { TapeBars } from './tapeBars';
import type { TaskKind } from './taskKind';

/* A thread that does tasks, one after the other. */

const { limits } = settings;
const store = connectStore(settings.JAUNTY_STORE, settings.JAUNTY_STORE_READ);
const bars = new TapeBars(store, limits);

let helper: Worker | undefined;
useOtherThread(
  askingThread((order) => {
    helper ??= new Worker(join(resolve(settings.JAUNTY_JOBS), 'helperThread.js'), THREAD_LIMITS);
    helper.postMessage(order);
  }),
);

/** A task as it is handed to a thread. */
export interface TaskOrder {
  name: TaskName;
  input: TaskInput<TaskName>;
  course: SharedArrayBuffer;
  /** Milliseconds that it may take; light tasks begin anew elsewhere where that is not enough. */
  milliseconds: number;
  isLight: boolean;
}

export type TaskOutcome =
  | { kind: 'done'; body: Uint8Array }
  | { kind: 'refused'; problem: Problem }
  | { kind: 'stopped' }
  | { kind: 'not-light' };

/** An outcome whose bytes are handed over and not copied. */
const handedOver = (outcome: TaskOutcome & { kind: 'done' }): TaskOutcome =>
  Piscina.move({
    get [Piscina.transferableSymbol]() {
      return [outcome.body.buffer];
    },
    get [Piscina.valueSymbol]() {
      return outcome;
    },
  } as unknown as ArrayBuffer) as unknown as TaskOutcome;

export default async function run(order: TaskOrder | 'close'): Promise<TaskOutcome> {
  if (order === 'close') {
    await store.close();
    return { kind: 'stopped' };
  }
  const { name, input, milliseconds, isLight } = order;
  const course = new Course(new SharedCourse(order.course), { milliseconds, isLight });
  // each name has its own kind of input, which the compiler cannot follow through a table
  const kind = TASKS[name] as TaskKind<typeof input>;
  try {
    return handedOver({ kind: 'done', body: await kind.run(input, { store, limits, bars, course }) });
  } catch (error) {
    if (error instanceof StoppedError) return { kind: 'stopped' };
    if (error instanceof NotLightError) return { kind: 'not-light' };
    return { kind: 'refused', problem: problemOf(error) };
  }
}
