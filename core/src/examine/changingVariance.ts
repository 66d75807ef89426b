import { requireWhole } from '../arguments.js';
import { chiSquareTail } from '../numeric/tails.js';
import { regress } from './regression.js';
import { deviationsOf, isConstant, NOTHING, squaresOf, validOf } from '../numeric/deviations.js';

/** Whether large moves come together (null: the variance is steady), after Engle 1982. */
export interface ChangingVariance {
  count: number;
  missing: number;
  /** NaN where it cannot be told. */
  statistic: number;
  degrees: number;
  p: number;
  rows: number;
}

/**
 * @param x  returns, or whatever may be wild at times; missing values are left out first
 * @param q  rows before that a squared deviation may depend on, from 1
 * @throws {ArgumentError} for a q that is no whole number from 1
 * @see definitions, section 10
 */
export function changingVariance(x: Float64Array, q: number): ChangingVariance {
  requireWhole('q', q, { min: 1, max: Infinity });
  const values = validOf(x);
  const n = values.length;
  const rows = n - q;
  const found = { count: n, missing: x.length - n, statistic: NaN, degrees: q, p: NaN, rows: Math.max(0, rows) };
  if (rows <= q + 1) return found;
  const squares = deviationsOf(values).map((value) => value * value);
  const spread = squaresOf(deviationsOf(squares));
  if (isConstant(squares) || !(spread > NOTHING * squaresOf(squares))) return found;
  // about their mean: the constant takes it up, and the share that is explained is the same
  const about = deviationsOf(squares);
  const columns = [new Float64Array(rows).fill(1)];
  for (let lag = 1; lag <= q; lag++) columns.push(about.slice(q - lag, n - lag));
  const { left } = regress(columns, about.slice(q), 0);
  const explained = 1 - left[q + 1] / left[1];
  const statistic = rows * explained;
  return { ...found, statistic, p: chiSquareTail(statistic, q) };
}
