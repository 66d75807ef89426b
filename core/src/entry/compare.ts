import { requireWhole } from '../arguments.js';
import { rebasedAt } from '../compare/group.js';
import { correlationMatrix as returnCorrelations, likenessOrder, type Join } from '../compare/matrix.js';
import { partedStretches, type PartedStretch } from '../compare/partedStretches.js';
import { halfLife as halfLifeOf, spreadOf } from '../compare/spread.js';

/* Several columns beside each other. Prices have any unit, missing ones are NaN; columns of one call have the same rows. */

export { cointegration, type Cointegration } from '../compare/cointegration.js';
export { groupAverage } from '../compare/group.js';
export { joinColumns, type Joined, type TimedColumn } from '../compare/join.js';

/**
 * A column as 100 at one of its rows.
 * @param row  counted from 0; the first that has a value if not given
 * @throws {ArgumentError} for a row that there is not
 * @see definitions, section 13
 */
export const rebased = (x: Float64Array, row?: number): Float64Array => rebasedAt(x, row);

export interface SpreadOptions {
  /** A given slope, one slope of all rows (`all`, which looks ahead), or of the last `window` rows. By default 1. */
  beta?: number | 'all' | 'window';
  /** Rows that a rolling slope is taken over. */
  window?: number;
}

const spreadIn = (a: Float64Array, b: Float64Array, { beta = 1, window }: SpreadOptions) => {
  if (beta !== 'window') return spreadOf(a, b, beta);
  requireWhole('window', window ?? NaN, { min: 2 });
  return spreadOf(a, b, { rows: window! });
};

/**
 * The logarithm of a less beta times that of b, the ratio of the two, and how fast the spread comes back.
 * @returns `halflife` in rows; NaN where the spread does not come back
 * @throws {ArgumentError} for columns of unequal length, or a window that is no whole number from 2
 * @see definitions, section 13
 */
export function spread(a: Float64Array, b: Float64Array, options: SpreadOptions = {}) {
  const { values, beta } = spreadIn(a, b, options);
  return {
    ratio: a.map((value, row) => (b[row] === 0 ? NaN : value / b[row])),
    beta,
    spread: values,
    ...halfLife(values),
  };
}

/**
 * How many rows a distance takes to halve, by the regression of the change on the level before.
 * @param x  a spread; missing values are left out first
 * @returns `halflife` NaN where it does not come back
 * @see definitions, section 13
 */
export function halfLife(x: Float64Array): { count: number; slope: number; halflife: number } {
  const { count, slope, rows } = halfLifeOf(x);
  return { count, slope, halflife: rows };
}

/**
 * Correlations of the simple returns of prices, and an order in which like columns stand together.
 * @param rows  the last so many returns; all if not given
 * @throws {ArgumentError} for members of unequal length, or rows that are no whole number from 2
 * @see definitions, section 13
 */
export function correlationMatrix(
  members: readonly Float64Array[],
  { rows }: { rows?: number } = {},
): { correlations: number[][]; order: number[]; joins: Join[] } {
  const matrix = returnCorrelations(members, rows);
  const { columns, values } = matrix;
  const correlations = members.map((_, row) => [...values.subarray(row * columns, (row + 1) * columns)]);
  return { correlations, ...likenessOrder(matrix) };
}

/**
 * Stretches in which a pair was unusually far apart. Only `beta: 'all'` uses what is later than a row.
 * @param bars   rows that mean and deviation of the spread are taken over, from 2
 * @param begin  deviations from which a stretch begins; `end` at which it ends, and below that
 * @throws {ArgumentError} for options that do not go together, or columns of unequal length
 * @see definitions, section 13
 */
export function divergences(
  a: Float64Array,
  b: Float64Array,
  { bars, begin, end, ...options }: SpreadOptions & { bars: number; begin?: number; end?: number },
): { z: Float64Array; stretches: PartedStretch[] } {
  return partedStretches(spreadIn(a, b, options).values, { rows: bars, begin, end });
}
