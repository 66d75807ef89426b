import type { CallAtRow, CallWorking } from '../catalogue/functionEntry.js';

/**
 * The working of a move by rows: the value and the one it is held against. By time only the value is shown.
 * @param of      what the two come to
 * @param ahead   whether the other one is later
 */
export const moveWorking =
  (of: (value: number, base: number) => number, { ahead = false } = {}) =>
  ({ settings: { back }, columns: [x], phrases: [phrase], row }: CallAtRow): CallWorking => {
    const own = { says: phrase, value: x[row] };
    if (!('bars' in back!)) return { steps: [own] };
    const other = ahead ? row + back.bars : row - back.bars;
    const base = x[other] ?? NaN;
    return {
      steps: [own, { says: `the same ${back.bars} ${ahead ? 'later' : 'before'}`, value: base }],
      recomputed: of(x[row], base),
      rows: { at: [other, row], names: [phrase], columns: [[base, x[row]]] },
    };
  };
