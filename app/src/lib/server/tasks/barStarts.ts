import { serialize } from 'node:v8';
import type { StoredTape } from '../store/tapeRows';
import { recordsInRange, type Range } from './range';
import type { BarChoice } from './tapeStretches';
import type { TaskKind } from './taskKind';

/** Where bars that run on over the days begin behind a stretch of a tape, by where they begin in it. */
export const barStarts: TaskKind<BarChoice & { tape: StoredTape; range: Range }> = {
  isPart: true,
  records: ({ tape, range }) => recordsInRange(tape, range),
  run: async ({ tape, range, ...choice }, { bars, course }) =>
    serialize(await bars.startsOf(tape, choice, course, range)),
};
