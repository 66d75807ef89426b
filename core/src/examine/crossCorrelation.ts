import { requireWhole } from '../arguments.js';
import { laggedProducts } from '../numeric/laggedProducts.js';
import { isFinite } from '../windows/anchoredSums.js';
import { deviationsOf, isConstant, squaresOf } from '../numeric/deviations.js';

/** How two columns move together, the one some rows before or after the other. */
export interface CrossCorrelation {
  /** Rows on which both have a value. */
  count: number;
  /** From -K to K; a high value at k > 0 says that x leads y by k rows. NaN where either has no spread. */
  values: Float64Array;
}

/**
 * @param x     values of any unit
 * @param y     as many of another; rows without one of them are left out of both first
 * @param most  K, the most rows apart, below the number of rows
 * @throws {ArgumentError} for an amount of rows that does not go
 * @see definitions, section 10
 */
export function crossCorrelation(x: Float64Array, y: Float64Array, most: number): CrossCorrelation {
  const isThere = (_: number, row: number) => isFinite(x[row]) && isFinite(y[row]);
  const [a, b] = [x.filter(isThere), y.filter(isThere)];
  const n = a.length;
  requireWhole('lags', most, { min: 0, max: Math.max(0, n - 1) });
  const values = new Float64Array(2 * most + 1).fill(NaN);
  if (isConstant(a) || isConstant(b)) return { count: n, values };
  const [dx, dy] = [deviationsOf(a), deviationsOf(b)];
  const scale = Math.sqrt(squaresOf(dx)) * Math.sqrt(squaresOf(dy));
  const [later, earlier] = [laggedProducts(dx, dy, most), laggedProducts(dy, dx, most)];
  for (let k = 0; k <= most; k++) {
    values[most - k] = earlier[k] / scale;
    values[most + k] = later[k] / scale;
  }
  return { count: n, values };
}
