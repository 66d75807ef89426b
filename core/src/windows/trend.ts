import { isFinite, slideSums, type Terms } from './anchoredSums.js';
import { byBlockLoop } from './blockBars.js';
import { blockSlope } from './blockSpread.js';
import { dropBeyondPowers } from './magnitude.js';
import type { RowTimes, Window } from './window.js';

export type TrendMeasure = 'slope' | 'intercept' | 'fit' | 'rsquared' | 'slopeerror' | 'tvalue';

/** Fewest values that a line, or the scatter about it, can be told from. */
export const TREND_NEEDS: Record<TrendMeasure, number> = {
  slope: 2,
  intercept: 2,
  fit: 2,
  rsquared: 2,
  slopeerror: 3,
  tvalue: 3,
};

/** Share of the spread below which the difference that the residuals are taken from has lost most of its digits. */
const CANCELLED = 1e-6;

/** A unit of elapsed time that trends are measured against, in microseconds; nothing for the row. */
type Against = number | undefined;

/**
 * Straight line through a column over a window, by least squares, on the row or on elapsed time.
 * @param x        n values; NaN and infinities are missing
 * @param against  microseconds of the unit of time, or nothing: then a step is a row
 * @returns        n values: `slope` in the unit of x a step; `intercept` and `fit`, the line's value at the window's last
 *   row, in that of x; `rsquared`, `tvalue` without a unit, NaN without spread
 */
export function rollingTrend(
  x: Float64Array,
  measure: TrendMeasure,
  window: Window,
  from: number,
  against: Against,
  times?: RowTimes,
): Float64Array {
  const least = Math.max(TREND_NEEDS[measure], from);
  const rows = x.length;
  const out = new Float64Array(rows);
  const isPlain = measure === 'slope' && against === undefined && window.kind === 'bars' && window.bars === least;
  if (isPlain && byBlockLoop(x, window, least, out, times, blockSlope))
    return dropBeyondPowers([x], out, window, times, 2);
  const time = times?.time;
  let originRow = 0;
  const position = (row: number): number =>
    against === undefined ? row - originRow : (time![row] - time![originRow]) / against;
  const terms: Terms = {
    count: 5,
    isValid: (row) => isFinite(x[row]),
    setOrigin: (row) => (originRow = row),
    write: (row, into) => {
      const p = position(row);
      const d = x[row] - x[originRow];
      into[0] = p;
      into[1] = d;
      into[2] = p * p;
      into[3] = d * d;
      into[4] = p * d;
    },
  };
  /**
   * Sum of the squared residuals of a window, row by row: on a nearly straight line the difference of the sums cancels.
   * Residuals as small as the rounding of the values themselves are 0.
   */
  const squaredResiduals = (first: number, end: number, slope: number, p0: number, d0: number): number => {
    let [sum, count, highest] = [0, 0, 0];
    for (let row = first; row < end; row++) {
      if (!isFinite(x[row])) continue;
      const residual = x[row] - x[originRow] - d0 - slope * (position(row) - p0);
      sum += residual * residual;
      count++;
      highest = Math.max(highest, Math.abs(x[row]));
    }
    return Math.sqrt(sum / count) <= 2 * highest * Number.EPSILON ? 0 : sum;
  };
  slideSums(rows, window, times, terms, (t, m, s, first, end) => {
    const pp = s[2] - (s[0] * s[0]) / m;
    if (m < least || !(pp > 0)) {
      out[t] = NaN; // too few, or all at one instant
      return;
    }
    const dd = Math.max(0, s[3] - (s[1] * s[1]) / m);
    const pd = s[4] - (s[0] * s[1]) / m;
    const slope = pd / pp;
    switch (measure) {
      case 'slope':
        out[t] = slope;
        return;
      case 'intercept':
      case 'fit':
        out[t] = x[originRow] + (s[1] / m + slope * (position(end - 1) - s[0] / m));
        return;
      case 'rsquared':
        out[t] = dd > 0 ? Math.min(1, (pd * slope) / dd) : NaN;
        return;
      default: {
        let left = dd - pd * slope;
        if (left < CANCELLED * dd) left = squaredResiduals(first, end, slope, s[0] / m, s[1] / m);
        const error = Math.sqrt(left / (m - 2) / pp);
        if (measure === 'slopeerror') out[t] = error;
        else out[t] = dd > 0 && error > 0 ? slope / error : NaN; // a line without error has no t value
      }
    }
  });
  return dropBeyondPowers([x], out, window, times, 2);
}

/**
 * Mean in which newer values weigh more: 1 for the oldest row of a full window up to N for its newest.
 * @returns n means in the unit of x
 */
export function rollingWeightedMean(x: Float64Array, window: Window, from: number, times?: RowTimes): Float64Array {
  const out = new Float64Array(x.length);
  let originRow = 0;
  const terms: Terms = {
    count: 3,
    isValid: (row) => isFinite(x[row]),
    setOrigin: (row) => (originRow = row),
    write: (row, into) => {
      const p = row - originRow;
      const d = x[row] - x[originRow];
      into[0] = p;
      into[1] = d;
      into[2] = p * d;
    },
  };
  slideSums(x.length, window, times, terms, (t, m, s, first, end) => {
    // a row's weight is its position and the weight of the origin
    const originWeight = (window.kind === 'bars' ? window.bars : end - first) - (end - 1 - originRow);
    const weights = s[0] + originWeight * m;
    out[t] = m < Math.max(1, from) ? NaN : x[originRow] + (s[2] + originWeight * s[1]) / weights;
  });
  return out;
}
