import type { CallAtRow, CallWorking } from '../catalogue/functionEntry.js';
import { BLOCK_ROWS, boundsOf } from '../windows/window.js';
import type { ByHand, PairByHand } from './byHand.js';

/** Rows of a working at most: a longer window shows its last ones. */
const MOST_ROWS = 400;

/** The working of an aggregate of one column over a window. */
export const windowWorking =
  (byHand: ByHand) =>
  (call: CallAtRow): CallWorking => {
    const { window, numbers, words } = call.settings;
    const { first, end, valid, rows } = windowRows(call);
    const [x] = call.columns;
    const steps = byHand({
      values: valid.map((at) => x[at]),
      positions: valid.map((at) => at - (end - 1)),
      own: x[call.row],
      length: window!.kind === 'bars' ? window!.bars : end - first,
      numbers,
      divisor: divisorOf(call),
    });
    // by hand positions are counted in rows
    return { rows, steps, recomputed: words.against === undefined ? steps.at(-1)?.value : undefined };
  };

/** The working of an aggregate of two columns over a window. */
export const pairWorking =
  (byHand: PairByHand) =>
  (call: CallAtRow): CallWorking => {
    const { valid, rows } = windowRows(call);
    const [x, y] = call.columns.map((column) => valid.map((at) => column[at]));
    const steps = byHand(x, y, divisorOf(call));
    return { rows, steps, recomputed: steps.at(-1)?.value };
  };

const divisorOf = ({ settings: { words } }: CallAtRow) => (words.divisor === 'm' ? 'm' : 'm-1');

function windowRows(call: CallAtRow) {
  const { columns, phrases } = call;
  const [first, end] = windowAt(call);
  const all = Array.from({ length: Math.max(0, end - first) }, (_, i) => first + i);
  const shown = all.slice(-MOST_ROWS);
  return {
    first,
    end,
    valid: all.filter((at) => columns.every((column) => Number.isFinite(column[at]))),
    rows: { at: shown, names: [...phrases], columns: columns.map((column) => shown.map((at) => column[at])) },
  };
}

/** The rows of a call's window at a row, as [first, end). */
function windowAt({ settings, times, row }: CallAtRow): [number, number] {
  const bounds = boundsOf(settings.window!, times.time.length, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  // windows are told in order of their rows
  for (let block = 0; ; block += BLOCK_ROWS) {
    const blockEnd = Math.min(times.time.length, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    if (row < blockEnd) return [firsts[row - block], ends[row - block]];
  }
}
