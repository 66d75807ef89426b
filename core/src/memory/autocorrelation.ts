import { requireWhole } from '../arguments.js';
import { laggedProducts } from '../numeric/laggedProducts.js';
import { chiSquareTail } from '../numeric/tails.js';
import { deviationsOf, squaresOf, validOf } from '../numeric/deviations.js';

/** How a series depends on its own past, lag by lag from 0. */
export interface Autocorrelation {
  acf: Float64Array;
  pacf: Float64Array;
  /** Values that count, and those that were missing and left out. */
  count: number;
  missing: number;
  /** Beyond this, above or below, a correlation is unlikely to be chance: 95 %. */
  band: number;
  /** The same for each lag from 1, under the correlations of the lags before it (Bartlett 1946). */
  bartlett: Float64Array;
  /** Whether the first k lags together are chance, for each k from 1 (Ljung and Box 1978). */
  ljungBox: { statistic: number; degrees: number; p: number }[];
}

/** 95 % of a normal variable lie within so many deviations. */
const NORMAL_95 = 1.96;

/**
 * Autocorrelation of a series up to a lag.
 * @param x       n values of any unit; missing ones are left out first
 * @param lags    the greatest lag, from 1 and below the number of values
 * @param fitted  parameters that were fitted to the series before, which the degrees of freedom lose
 * @throws {ArgumentError} for too many lags
 * @see definitions, section 10; Durbin 1960 (the recursion of pacf)
 */
export function autocorrelation(x: Float64Array, lags: number, fitted = 0): Autocorrelation {
  const values = validOf(x);
  const n = values.length;
  requireWhole('lags', lags, { min: 1, max: Math.max(1, n - 1) });
  const deviations = deviationsOf(values);
  const squares = squaresOf(deviations);
  const acf = laggedProducts(deviations, deviations, lags).map((products) => products / squares);
  acf[0] = squares > 0 ? 1 : NaN;
  const band = NORMAL_95 / Math.sqrt(n);
  const bartlett = new Float64Array(lags);
  const ljungBox: Autocorrelation['ljungBox'] = [];
  let statistic = 0;
  for (let k = 1, before = 0; k <= lags; k++) {
    bartlett[k - 1] = NORMAL_95 * Math.sqrt((1 + 2 * before) / n);
    before += acf[k] ** 2;
    statistic += (n * (n + 2) * acf[k] ** 2) / (n - k);
    const degrees = k - fitted;
    ljungBox.push({ statistic, degrees, p: degrees > 0 ? chiSquareTail(statistic, degrees) : NaN });
  }
  return { acf, pacf: partial(acf), count: n, missing: x.length - n, band, bartlett, ljungBox };
}

/** Correlation with each lag that the lags between do not explain. */
function partial(acf: Float64Array): Float64Array {
  const out = new Float64Array(acf.length);
  out[0] = 1;
  let weights: number[] = [];
  for (let k = 1; k < acf.length; k++) {
    let [above, below] = [acf[k], 1];
    for (let j = 1; j < k; j++) {
      above -= weights[j - 1] * acf[k - j];
      below -= weights[j - 1] * acf[j];
    }
    const last = above / below;
    weights = [...weights.map((weight, j) => weight - last * weights[k - 2 - j]), last];
    out[k] = last;
  }
  return out;
}
