import { BLOCK_ROWS, boundsOf, type RowTimes, type Window } from './window.js';

/* Squares of values beyond 1e154 are infinite, those of values below 1e-162 are 0. A measure of such a window would be wrong
   without a sign of it, so it is missing. */

/** Magnitudes between which the powers up to `power` are held with all their digits. */
const boundsOfPower = (power: number) => ({ low: 10 ** (-300 / power), high: 10 ** (300 / power) });

/**
 * Makes the results missing whose windows hold values that the measure's powers overflow, or only ones that they underflow.
 * Columns without such values, nearly all, cost one look at each value.
 * @param out    n results, changed in place
 * @param power  the highest power that the measure takes of a value
 */
export function dropBeyondPowers(
  columns: readonly Float64Array[],
  out: Float64Array,
  window: Window,
  times: RowTimes | undefined,
  power: number,
): Float64Array {
  const { low, high } = boundsOfPower(power);
  for (const x of columns) if (hasExtremes(x, low, high)) drop(x, out, window, times, low, high);
  return out;
}

function hasExtremes(x: Float64Array, low: number, high: number): boolean {
  for (let row = 0; row < x.length; row++) {
    const size = Math.abs(x[row]);
    if ((size > high && size < Infinity) || (size < low && size > 0)) return true;
  }
  return false;
}

/** Whether all values of a window are the same: they have no deviation, of whatever size they are. */
function areEqual(x: Float64Array, first: number, end: number): boolean {
  for (let row = first + 1; row < end; row++) if (x[row] !== x[first]) return false;
  return true;
}

function drop(
  x: Float64Array,
  out: Float64Array,
  window: Window,
  times: RowTimes | undefined,
  low: number,
  high: number,
): void {
  const rows = x.length;
  // counts of values before each row: too large, too small though not 0, and of a size that hides those
  const [large, small, usual] = [1, 2, 3].map(() => new Int32Array(rows + 1));
  for (let row = 0; row < rows; row++) {
    const size = Math.abs(x[row]);
    large[row + 1] = large[row] + Number(size > high && size < Infinity);
    small[row + 1] = small[row] + Number(size < low && size > 0);
    usual[row + 1] = usual[row] + Number(size >= low && size <= high);
  }
  const bounds = boundsOf(window, rows, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  for (let block = 0; block < rows; block += BLOCK_ROWS) {
    const blockEnd = Math.min(rows, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    for (let t = block; t < blockEnd; t++) {
      const [first, end] = [firsts[t - block], ends[t - block]];
      const count = (counts: Int32Array) => (end > first ? counts[end] - counts[first] : 0);
      const isBeyond = count(large) > 0 || (count(small) > 0 && count(usual) === 0);
      if (isBeyond && !areEqual(x, first, end)) out[t] = NaN;
    }
  }
}
