import { lostBy } from '../numeric/foldedSum.js';
import { byBlockLoop } from './blockBars.js';
import { blockSum } from './blockSum.js';
import { BLOCK_ROWS, boundsOf, type RowTimes, type Window } from './window.js';

/**
 * Sum of a column over a window.
 * @param x       n values of any unit; NaN and infinities are missing: passed over, never filled
 * @param window  which rows; see `Window`
 * @param from    fewest valid values that give a sum
 * @returns       n sums in the unit of x, NaN where fewer than `from` values are valid; x is left as it was
 * @remarks Relative error about 3u + (m u)^2 sum|x| / |sum x|, u = 2^-53. O(n) time whatever the window, scratch of one
 *   window.
 * @see van Herk 1992 (sums by blocks, nothing is ever subtracted); Ogita, Rump and Oishi 2005 (compensated sums)
 */
export function rollingSum(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return sums(x, window, from, false, times);
}

/** Mean of a column over a window; as `rollingSum`, divided by the number of valid values. */
export function rollingMean(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return sums(x, window, from, true, times);
}

/*
 * A window is held in two parts that meet at the row `middle`. The front, [first, middle), has a sum from each of its
 * rows to the middle, worked out once from the back to the front; the rest is one growing sum. When the front is used
 * up, the whole window becomes the front. So a value that has left the window has left no trace, a spike of 1e12 included.
 */
function sums(x: Float64Array, window: Window, from: number, divide: boolean, times?: RowTimes): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
  if (byBlockLoop(x, window, from, out, times, (x, bars, out) => blockSum(x, bars, from, divide, out))) return out;
  const bounds = boundsOf(window, rows, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  let frontSums = new Float64Array(1024);
  let frontCounts = new Int32Array(1024);
  let base = 0; // the row that frontSums[0] stands for
  let middle = 0;
  let reached = 0; // rows of the back that are summed
  let sum = 0;
  let error = 0;
  let count = 0;
  const begin = times?.slide?.from ?? 0;
  for (let block = 0; block < rows; block += BLOCK_ROWS) {
    const blockEnd = Math.min(rows, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    for (let t = Math.max(block, begin); t < blockEnd; t++) {
      const first = firsts[t - block];
      const end = ends[t - block];
      let frontSum = 0;
      let frontCount = 0;
      if (first >= middle) {
        times?.slide?.restart(t, first);
        const length = Math.max(0, end - first);
        if (length > frontSums.length) {
          frontSums = new Float64Array(2 * length);
          frontCounts = new Int32Array(2 * length);
        }
        base = first;
        middle = reached = Math.max(first, end);
        sum = error = count = 0;
        for (let i = length - 1; i >= 0; i--) {
          const value = x[base + i];
          if (value - value === 0) {
            const next = sum + value;
            error += lostBy(sum, value, next);
            sum = next;
            count++;
          }
          frontSums[i] = sum + error;
          frontCounts[i] = count;
        }
        sum = error = count = 0;
        if (length === 0) {
          out[t] = from > 0 ? NaN : 0;
          continue;
        }
      }
      for (; reached < end; reached++) {
        const value = x[reached];
        if (value - value !== 0) continue;
        const next = sum + value;
        error += lostBy(sum, value, next);
        sum = next;
        count++;
      }
      if (first < middle) {
        frontSum = frontSums[first - base];
        frontCount = frontCounts[first - base];
      }
      const valid = frontCount + count;
      if (valid < from) out[t] = NaN;
      else out[t] = divide ? (frontSum + sum + error) / valid : frontSum + sum + error;
    }
  }
  return out;
}
