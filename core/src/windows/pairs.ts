import { requireSameLength } from '../arguments.js';
import { isFinite, slideSums, type Terms } from './anchoredSums.js';
import { dropBeyondPowers } from './magnitude.js';
import type { SpreadOptions } from './moments.js';
import type { RowTimes, Window } from './window.js';

/**
 * Covariance of two columns over a window, over the rows where both are valid.
 * @returns n covariances in the unit of x times that of y, NaN for fewer than `from` rows, never fewer than two
 * @throws {ArgumentError} for columns of unequal length
 */
export function rollingCovariance(
  x: Float64Array,
  y: Float64Array,
  window: Window,
  from: number,
  { divisor }: SpreadOptions,
  times?: RowTimes,
): Float64Array {
  const less = divisor === 'm' ? 0 : 1;
  return pairs(x, y, window, from, times, (m, { xy }) => xy / (m - less));
}

/** Correlation, -1 to 1; NaN where one of the two has no spread. */
export function rollingCorrelation(
  x: Float64Array,
  y: Float64Array,
  window: Window,
  from: number,
  times?: RowTimes,
): Float64Array {
  return pairs(x, y, window, from, times, (_, { xx, yy, xy }) =>
    xx > 0 && yy > 0 ? Math.max(-1, Math.min(1, xy / (Math.sqrt(xx) * Math.sqrt(yy)))) : NaN,
  );
}

/** How far x moves with a move of y by one: cov(x, y) / var(y); NaN where y has no spread. */
export function rollingBeta(
  x: Float64Array,
  y: Float64Array,
  window: Window,
  from: number,
  times?: RowTimes,
): Float64Array {
  return pairs(x, y, window, from, times, (_, { yy, xy }) => (yy > 0 ? xy / yy : NaN));
}

/** Sums of products of the deviations from the means. */
interface Products {
  xx: number;
  yy: number;
  xy: number;
}

function pairs(
  x: Float64Array,
  y: Float64Array,
  window: Window,
  from: number,
  times: RowTimes | undefined,
  measure: (m: number, products: Products) => number,
): Float64Array {
  requireSameLength('y', y, x.length);
  const out = new Float64Array(x.length);
  const least = Math.max(2, from);
  let originX = 0;
  let originY = 0;
  const terms: Terms = {
    count: 5,
    isValid: (row) => isFinite(x[row]) && isFinite(y[row]),
    setOrigin: (row) => {
      originX = x[row];
      originY = y[row];
    },
    write: (row, into) => {
      const dx = x[row] - originX;
      const dy = y[row] - originY;
      into[0] = dx;
      into[1] = dy;
      into[2] = dx * dx;
      into[3] = dy * dy;
      into[4] = dx * dy;
    },
  };
  const products: Products = { xx: 0, yy: 0, xy: 0 };
  slideSums(x.length, window, times, terms, (t, m, s) => {
    products.xx = Math.max(0, s[2] - (s[0] * s[0]) / m);
    products.yy = Math.max(0, s[3] - (s[1] * s[1]) / m);
    products.xy = s[4] - (s[0] * s[1]) / m;
    out[t] = m < least ? NaN : measure(m, products);
  });
  return dropBeyondPowers([x, y], out, window, times, 2);
}
