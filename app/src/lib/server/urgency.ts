import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/**
 * Makes this thread less urgent to the operating system: where there are more threads than processors, the others go before
 * it. Linux counts threads like processes; elsewhere it stays as it is.
 * @param steps  1 to 19
 */
export function becomeLessUrgent(steps: number): void {
  if (process.platform !== 'linux') return;
  const thread = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
  setPriority(thread, steps);
}
