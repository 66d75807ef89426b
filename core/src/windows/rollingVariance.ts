import { BLOCK_ROWS, boundsOf, type RowTimes, type Window } from './window.js';

export interface SpreadOptions {
  /** What the squared deviations are divided by: one less than the number of values, or their number. */
  divisor: 'm-1' | 'm';
}

/**
 * Variance of a column over a window.
 * @param x       n values of any unit; NaN and infinities are missing
 * @param window  which rows; see `Window`
 * @param from    fewest valid values that give a variance; never fewer than two
 * @returns       n variances in the squared unit of x; exactly 0 where all values of the window are equal
 * @remarks Relative error about m u, u = 2^-53, whatever the size of the values beside their spread. O(n) time.
 * @see van Herk 1992 (two parts, nothing is subtracted); Chan, Golub and LeVeque 1983 (shifted data, joining two parts)
 */
export function rollingVariance(
  x: Float64Array,
  window: Window,
  from: number,
  options: SpreadOptions,
  times?: RowTimes,
): Float64Array {
  return spreads(x, window, from, options, false, times);
}

/** Standard deviation: the root of `rollingVariance`, in the unit of x. */
export function rollingStdev(
  x: Float64Array,
  window: Window,
  from: number,
  options: SpreadOptions,
  times?: RowTimes,
): Float64Array {
  return spreads(x, window, from, options, true, times);
}

/*
 * Two parts as in `rollingSum`. Each part sums deviations from the value at the middle that it always holds: its own
 * last (front) or first (back) row. A shift by a member of the window is what bounds the cancellation of
 * S2 - S1^2/m to a factor m, for values around 1e9 that differ by 1 and for spikes alike; and equal values give exactly 0.
 * Both sums are compensated.
 */
function spreads(
  x: Float64Array,
  window: Window,
  from: number,
  { divisor }: SpreadOptions,
  root: boolean,
  times?: RowTimes,
): Float64Array {
  const rows = x.length;
  const out = new Float64Array(rows);
  const least = Math.max(2, from);
  const less = divisor === 'm' ? 0 : 1;
  const bounds = boundsOf(window, rows, times);
  const firsts = new Int32Array(BLOCK_ROWS);
  const ends = new Int32Array(BLOCK_ROWS);
  let frontSquares = new Float64Array(1024); // sum of squared deviations from the part's own mean
  let frontMeans = new Float64Array(1024); // mean less the shift
  let frontCounts = new Int32Array(1024);
  let base = 0;
  let middle = 0;
  let reached = 0;
  let frontShift = 0;
  let shift = 0;
  let s1 = 0;
  let e1 = 0;
  let s2 = 0;
  let e2 = 0;
  let count = 0;
  for (let block = 0; block < rows; block += BLOCK_ROWS) {
    const blockEnd = Math.min(rows, block + BLOCK_ROWS);
    bounds.fill(block, blockEnd, firsts, ends);
    for (let t = block; t < blockEnd; t++) {
      const first = firsts[t - block];
      const end = ends[t - block];
      if (first >= middle) {
        const length = Math.max(0, end - first);
        if (length > frontCounts.length) {
          frontSquares = new Float64Array(2 * length);
          frontMeans = new Float64Array(2 * length);
          frontCounts = new Int32Array(2 * length);
        }
        base = first;
        middle = reached = Math.max(first, end);
        s1 = e1 = s2 = e2 = count = 0;
        for (let i = length - 1; i >= 0; i--) {
          const value = x[base + i];
          if (value - value === 0) {
            if (count === 0) frontShift = value;
            const d = value - frontShift;
            const next1 = s1 + d;
            const part1 = next1 - s1;
            e1 += s1 - (next1 - part1) + (d - part1);
            s1 = next1;
            const square = d * d;
            const next2 = s2 + square;
            e2 += s2 >= square ? s2 - next2 + square : square - next2 + s2;
            s2 = next2;
            count++;
          }
          const sum = s1 + e1;
          const mean = count > 0 ? sum / count : 0;
          frontMeans[i] = mean;
          frontSquares[i] = Math.max(0, s2 - sum * mean + e2);
          frontCounts[i] = count;
        }
        s1 = e1 = s2 = e2 = count = 0;
      }
      for (; reached < end; reached++) {
        const value = x[reached];
        if (value - value !== 0) continue;
        if (count === 0) shift = value;
        const d = value - shift;
        const next1 = s1 + d;
        const part1 = next1 - s1;
        e1 += s1 - (next1 - part1) + (d - part1);
        s1 = next1;
        const square = d * d;
        const next2 = s2 + square;
        e2 += s2 >= square ? s2 - next2 + square : square - next2 + s2;
        s2 = next2;
        count++;
      }
      const frontCount = first < middle ? frontCounts[first - base] : 0;
      const valid = frontCount + count;
      if (valid < least) {
        out[t] = NaN;
        continue;
      }
      let squares = 0;
      if (count > 0) {
        const sum = s1 + e1;
        const mean = sum / count;
        squares = Math.max(0, s2 - sum * mean + e2);
        if (frontCount > 0) {
          const apart = frontShift - shift + (frontMeans[first - base] - mean);
          squares += frontSquares[first - base] + (apart * apart * frontCount * count) / valid;
        }
      } else squares = frontSquares[first - base];
      out[t] = root ? Math.sqrt(squares / (valid - less)) : squares / (valid - less);
    }
  }
  return out;
}
