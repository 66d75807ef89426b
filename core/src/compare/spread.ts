import { requireSameLength, requireWhole } from '../arguments.js';
import { deviationsOf, NOTHING, squaresOf, sumOf, validOf } from '../numeric/deviations.js';
import { isFinite } from '../windows/anchoredSums.js';
import { rollingBeta } from '../windows/pairs.js';
import { lastBars } from '../windows/window.js';

/** How far the one goes with the other: a number, by least squares over all rows, or over the last so many. */
export type SpreadBeta = number | 'all' | { rows: number };

export interface Spread {
  /** ln a - beta ln b, NaN where either is missing or not above 0. */
  values: Float64Array;
  /** One number, or one a row. */
  beta: number | Float64Array;
}

/**
 * How far apart two prices are, on the logarithm.
 * @param beta  one number over all rows makes the spread look ahead
 * @throws {ArgumentError} for columns of unequal length, or a window that is no whole number from 2
 * @see definitions, section 13
 */
export function spreadOf(a: Float64Array, b: Float64Array, beta: SpreadBeta = 1): Spread {
  requireSameLength('b', b, a.length);
  const [x, y] = [logarithms(a), logarithms(b)];
  if (typeof beta === 'number') return { values: x.map((value, row) => value - beta * y[row]), beta };
  if (beta === 'all') {
    const { slope } = leastSquares(x, y);
    return { values: x.map((value, row) => value - slope * y[row]), beta: slope };
  }
  requireWhole('rows', beta.rows, { min: 2 });
  const slopes = rollingBeta(x, y, lastBars(beta.rows), beta.rows);
  return { values: x.map((value, row) => value - slopes[row] * y[row]), beta: slopes };
}

/** NaN of what is not above 0. */
export const logarithms = (x: Float64Array): Float64Array => x.map((value) => (value > 0 ? Math.log(value) : NaN));

/** The straight line of x on y over the rows that have both; NaN where y has no spread. */
export function leastSquares(x: Float64Array, y: Float64Array): { slope: number; constant: number; rows: number } {
  const isThere = (_: number, row: number) => isFinite(x[row]) && isFinite(y[row]);
  // gaps are few: columns without one are taken as they are
  const isWhole = x.every(isThere);
  const [own, other] = isWhole ? [x, y] : [x.filter(isThere), y.filter(isThere)];
  const rows = own.length;
  if (rows < 2) return { slope: NaN, constant: NaN, rows };
  const [dx, dy] = [deviationsOf(own), deviationsOf(other)];
  const spread = squaresOf(dy);
  const slope = spread > NOTHING * squaresOf(other) ? sumOf(dx.map((value, row) => value * dy[row])) / spread : NaN;
  return { slope, constant: sumOf(own) / rows - (slope * sumOf(other)) / rows, rows };
}

export interface HalfLife {
  /** Values that are there. */
  count: number;
  /** Of the change on the level before. */
  slope: number;
  /** Rows in which half of a distance is gone; NaN where it does not come back so. */
  rows: number;
}

/** How fast a column comes back to its level; missing values are left out first. @see definitions, section 13 */
export function halfLife(x: Float64Array): HalfLife {
  const values = validOf(x);
  const none = { count: values.length, slope: NaN, rows: NaN };
  if (values.length < 3) return none;
  const changes = values.slice(1).map((value, row) => value - values[row]);
  const { slope } = leastSquares(changes, values.subarray(0, -1));
  if (Number.isNaN(slope)) return none;
  return { ...none, slope, rows: slope > -1 && slope < 0 ? -Math.LN2 / Math.log1p(slope) : NaN };
}
