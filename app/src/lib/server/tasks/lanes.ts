import { availableParallelism } from 'node:os';
import { settings } from '../settings';
import { Lane } from './lane';

/*
 * Light tasks have threads of their own, so that none of them waits for heavy ones; and heavy threads are the less urgent
 * ones to the operating system, so that they do not slow light ones down where there are more threads than processors.
 */

/** Where a light task takes longer by the clock, it was not light; a thread that has just begun is slow, and so is a machine at work. */
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
