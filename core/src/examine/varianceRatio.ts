import { requireWhole } from '../arguments.js';
import { normalBeyond } from '../numeric/tails.js';
import { deviationsOf, isConstant, squaresOf, validOf } from '../numeric/deviations.js';

/** Whether returns go on or turn back over some rows (null: a random walk), after Lo and MacKinlay 1988. */
interface VarianceRatio {
  count: number;
  missing: number;
  /** Above 1 where returns go on, below where they turn back. NaN where it cannot be told. */
  ratio: number;
  /** Where the variance is steady, and where it may change. */
  z: number;
  p: number;
  robustZ: number;
  robustP: number;
}

/**
 * @param x  returns; missing ones are left out first
 * @param q  rows that are taken together, from 2
 * @throws {ArgumentError} for a q that is no whole number from 2
 * @see definitions, section 10
 */
export function varianceRatio(x: Float64Array, q: number): VarianceRatio {
  requireWhole('q', q, { min: 2, max: Infinity });
  const values = validOf(x);
  const n = values.length;
  const found = { count: n, missing: x.length - n, ratio: NaN, z: NaN, p: NaN, robustZ: NaN, robustP: NaN };
  if (q >= n || isConstant(values)) return found;
  const d = deviationsOf(values);
  const squares = squaresOf(d);
  const single = squares / (n - 1);
  let [together, sum] = [0, 0];
  for (let t = 0; t < n; t++) {
    sum += d[t] - (t >= q ? d[t - q] : 0);
    if (t >= q - 1) together += sum * sum;
  }
  const ratio = together / (q * (n - q + 1) * (1 - q / n)) / single;
  let variance = 0;
  for (let j = 1; j < q; j++) {
    let products = 0;
    for (let t = j; t < n; t++) products += d[t] ** 2 * d[t - j] ** 2;
    variance += ((2 * (q - j)) / q) ** 2 * (products / squares ** 2);
  }
  const z = (ratio - 1) / Math.sqrt((2 * (2 * q - 1) * (q - 1)) / (3 * q * n));
  const robustZ = (ratio - 1) / Math.sqrt(variance);
  return { ...found, ratio, z, p: normalBeyond(z), robustZ, robustP: normalBeyond(robustZ) };
}
