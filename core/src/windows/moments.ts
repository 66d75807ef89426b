import { isFinite, slideSums, type Terms } from './anchoredSums.js';
import { byBlockLoop } from './blockBars.js';
import { blockVariance } from './blockSpread.js';
import { dropBeyondPowers } from './magnitude.js';
import type { RowTimes, Window } from './window.js';

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
 * @see Chan, Golub and LeVeque 1983 (shifted data)
 */
export function rollingVariance(
  x: Float64Array,
  window: Window,
  from: number,
  { divisor }: SpreadOptions,
  times?: RowTimes,
): Float64Array {
  return spread(x, window, from, divisor, false, times);
}

/** Standard deviation: the root of `rollingVariance`, in the unit of x. */
export function rollingStdev(
  x: Float64Array,
  window: Window,
  from: number,
  { divisor }: SpreadOptions,
  times?: RowTimes,
): Float64Array {
  return spread(x, window, from, divisor, true, times);
}

/** Variances, or with `root` their roots. */
function spread(
  x: Float64Array,
  window: Window,
  from: number,
  divisor: SpreadOptions['divisor'],
  root: boolean,
  times?: RowTimes,
): Float64Array {
  const least = Math.max(2, from);
  const less = divisor === 'm' ? 0 : 1;
  const out = new Float64Array(x.length);
  if (byBlockLoop(x, window, least, out, times, (x, bars, out) => blockVariance(x, bars, least, less, root, out)))
    return dropBeyondPowers([x], out, window, times, 2);
  return moments(x, window, least, times, 2, (m, s) => {
    const variance = squaresOf(m, s) / (m - less);
    return root ? Math.sqrt(variance) : variance;
  });
}

/** Distance of each value from its window's mean, in standard deviations (divisor m-1); NaN without spread. */
export function rollingZscore(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return moments(x, window, Math.max(2, from), times, 2, (m, s, fromOrigin) => {
    const squares = squaresOf(m, s);
    return squares > 0 ? (fromOrigin - s[0] / m) / Math.sqrt(squares / (m - 1)) : NaN;
  });
}

/** Lean to one side, unbiased, without a unit; NaN without spread and for fewer than three values. */
export function rollingSkewness(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return moments(x, window, Math.max(3, from), times, 3, (m, s) => {
    const mean = s[0] / m;
    const squares = squaresOf(m, s);
    if (!(squares > 0)) return NaN;
    const cubes = s[2] - mean * (3 * s[1] - 2 * mean * s[0]);
    return ((m / ((m - 1) * (m - 2))) * cubes) / (squares / (m - 1)) ** 1.5;
  });
}

/** Weight of the tails beside those of a normal variable, unbiased, without a unit; NaN for fewer than four values. */
export function rollingKurtosis(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  return moments(x, window, Math.max(4, from), times, 4, (m, s) => {
    const mean = s[0] / m;
    const squares = squaresOf(m, s);
    if (!(squares > 0)) return NaN;
    const fourths = s[3] - mean * (4 * s[2] - mean * (6 * s[1] - 3 * mean * s[0]));
    const variance = squares / (m - 1);
    const weight = (m * (m + 1)) / ((m - 1) * (m - 2) * (m - 3));
    return (weight * fourths) / (variance * variance) - (3 * (m - 1) ** 2) / ((m - 2) * (m - 3));
  });
}

/** Sum of the squared deviations from the mean, of sums of deviations from an origin and of their squares. */
const squaresOf = (m: number, s: Float64Array): number => Math.max(0, s[1] - (s[0] * s[0]) / m);

/** A measure of the sums of the first `powers` powers of the deviations from an origin. */
function moments(
  x: Float64Array,
  window: Window,
  least: number,
  times: RowTimes | undefined,
  powers: number,
  measure: (m: number, sums: Float64Array, fromOrigin: number) => number,
): Float64Array {
  const out = new Float64Array(x.length);
  let origin = 0;
  const terms: Terms = {
    count: powers,
    isValid: (row) => isFinite(x[row]),
    setOrigin: (row) => (origin = x[row]),
    write: (row, into) => {
      const d = x[row] - origin;
      let power = 1;
      for (let k = 0; k < powers; k++) into[k] = power *= d;
    },
  };
  slideSums(x.length, window, times, terms, (t, m, sums) => {
    out[t] = m < least ? NaN : measure(m, sums, x[t] - origin);
  });
  return dropBeyondPowers([x], out, window, times, powers);
}
