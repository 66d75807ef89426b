import { requireWhole } from '../arguments.js';
import { normalBelow } from '../numeric/tails.js';
import { regressLong } from './longRegression.js';
import { regress } from './regression.js';
import { isConstant, NOTHING, squaresOf, validOf } from '../numeric/deviations.js';

/** What is allowed beside the level: nothing, a constant, or a constant and a straight line. */
export type Terms = 'none' | 'constant' | 'trend';

/** Whether a column has a unit root (null: it has), after Dickey and Fuller 1979 and Said and Dickey 1984. */
export interface UnitRoot {
  count: number;
  missing: number;
  /** Coefficient of the level before, its standard error, and the one over the other. NaN where it cannot be told. */
  coefficient: number;
  error: number;
  tau: number;
  p: number;
  /** Changes before that are in the regression, and its rows. */
  lags: number;
  rows: number;
  critical: { one: number; five: number; ten: number };
}

/** MacKinnon 1994 (p) and 2010 (critical values), for one series and, for residuals, of two. */
interface Surface {
  split: number;
  least: number;
  greatest: number;
  below: readonly number[];
  above: readonly number[];
  critical: { one: readonly number[]; five: readonly number[]; ten: readonly number[] };
}

const SURFACES: Readonly<Record<Terms | 'pair', Surface>> = {
  none: {
    split: -1.04,
    least: -19.04,
    greatest: Infinity,
    below: [0.6344, 1.2378, 0.032496],
    above: [0.4797, 0.93557, -0.06999, 0.033066],
    critical: {
      one: [-2.56574, -2.2358, -3.627, 0],
      five: [-1.941, -0.2686, -3.365, 31.223],
      ten: [-1.61682, 0.2656, -2.714, 25.364],
    },
  },
  constant: {
    split: -1.61,
    least: -18.83,
    greatest: 2.74,
    below: [2.1659, 1.4412, 0.038269],
    above: [1.7339, 0.93202, -0.12745, -0.010368],
    critical: {
      one: [-3.43035, -6.5393, -16.786, -79.433],
      five: [-2.86154, -2.8903, -4.234, -40.04],
      ten: [-2.56677, -1.5384, -2.809, 0],
    },
  },
  trend: {
    split: -2.89,
    least: -16.18,
    greatest: 0.7,
    below: [3.2512, 1.6047, 0.049588],
    above: [2.5261, 0.61654, -0.37956, -0.060285],
    critical: {
      one: [-3.95877, -9.0531, -28.428, -134.155],
      five: [-3.41049, -4.3904, -9.036, -45.374],
      ten: [-3.12705, -2.5856, -3.925, -22.38],
    },
  },
  pair: {
    split: -2.62,
    least: -18.86,
    greatest: 0.92,
    below: [2.92, 1.5012, 0.039796],
    above: [2.1945, 0.64695, -0.29198, -0.042377],
    critical: {
      one: [-3.89644, -10.9519, -22.527, 0],
      five: [-3.33613, -6.1101, -6.823, 0],
      ten: [-3.04445, -4.2412, -2.72, 0],
    },
  },
};

const TERMS: Readonly<Record<Terms, number>> = { none: 0, constant: 1, trend: 2 };

/**
 * The augmented Dickey-Fuller test.
 * @param x     values of any unit; missing ones are left out first
 * @param lags  changes before that are in the regression; chosen by the lowest AIC where it is not said
 * @throws {ArgumentError} for lags that are no whole number from 0
 * @see definitions, section 10
 */
export function unitRoot(x: Float64Array, terms: Terms = 'constant', lags?: number): UnitRoot {
  const values = validOf(x);
  const n = values.length;
  if (lags !== undefined) requireWhole('lags', lags, { min: 0, max: Infinity });
  const found: UnitRoot = {
    count: n,
    missing: x.length - n,
    ...{ coefficient: NaN, error: NaN, tau: NaN, p: NaN, lags: NaN, rows: NaN },
    critical: { one: NaN, five: NaN, ten: NaN },
  };
  if (isConstant(values)) return found;
  const chosen = lags ?? bestLags(values, terms);
  if (chosen === undefined) return found;
  const { rows, k, total, left, coefficient, error } = fitted(values, terms, chosen);
  if (rows < k + 1 || !(left[k] > NOTHING * total)) return found;
  const tau = coefficient / error;
  return { ...found, coefficient, error, tau, lags: chosen, rows, ...judged(tau, terms, rows) };
}

/** The chance of so low a tau where there is a unit root, and the values that few are below. */
export function judged(tau: number, surface: keyof typeof SURFACES, rows: number): Pick<UnitRoot, 'p' | 'critical'> {
  const { split, least, greatest, below, above, critical } = SURFACES[surface];
  const at = (row: readonly number[]) => row.reduce((sum, c, power) => sum + c / rows ** power, 0);
  const z = (tau <= split ? below : above).reduce((sum, b, power) => sum + b * tau ** power, 0);
  return {
    p: tau < least ? 0 : tau > greatest ? 1 : normalBelow(z),
    critical: { one: at(critical.one), five: at(critical.five), ten: at(critical.ten) },
  };
}

/** The number of lags with the lowest AIC, all fitted on the rows that the most can use; the fewer of two alike. */
function bestLags(values: Float64Array, terms: Terms): number | undefined {
  const n = values.length;
  const most = Math.min(longestSearched(n), Math.floor(n / 2) - 1 - Math.max(1, TERMS[terms]));
  if (most < 0) return undefined;
  const { rows: m, total, left } = fitted(values, terms, most);
  let best: { lags: number; aic: number } | undefined;
  for (let lags = 0; lags <= most; lags++) {
    const k = TERMS[terms] + 1 + lags;
    if (m < k + 1 || !(left[k] > NOTHING * total)) break;
    const aic = m * Math.log(left[k] / m) + 2 * k;
    if (!best || aic < best.aic) best = { lags, aic };
  }
  return best?.lags;
}

/** Reflections take so many products at most; beyond, sums of products are taken that lagged columns share. */
const MOST_PRODUCTS = 3e8;

/** The regression with so many changes before, on all rows that it can use. */
function fitted(values: Float64Array, terms: Terms, lags: number) {
  const k = TERMS[terms] + 1 + lags;
  const rows = Math.max(0, values.length - 1 - lags);
  if (terms !== 'none' && rows * k * k > MOST_PRODUCTS) {
    const moved = values.map((value) => value - values[0]);
    const regression = regressLong(moved, lags, terms === 'trend');
    return { rows, k, total: regression.left[1], ...regression };
  }
  const { columns, y } = equation(values, terms, lags);
  const total = squaresOf(y);
  return { rows, k, total, ...regress(columns, y, TERMS[terms]) };
}

/** The greatest p with 100 p^4 <= 12^4 n, exactly (Schwert 1989). */
function longestSearched(n: number): number {
  let p = Math.floor(12 * (n / 100) ** 0.25);
  while (100 * (p + 1) ** 4 <= 12 ** 4 * n) p++;
  while (100 * p ** 4 > 12 ** 4 * n) p--;
  return p;
}

/**
 * Change on terms, the level before and so many changes before, in this order.
 * With a constant the level is taken about its first value: the coefficients that are asked for are the same.
 */
function equation(values: Float64Array, terms: Terms, lags: number): { columns: Float64Array[]; y: Float64Array } {
  const rows = Math.max(0, values.length - 1 - lags);
  const changes = values.map((value, row) => (row === 0 ? 0 : value - values[row - 1]));
  const base = terms === 'none' ? 0 : values[0];
  const first = lags + 1;
  const columns: Float64Array[] = [];
  if (terms !== 'none') columns.push(new Float64Array(rows).fill(1));
  if (terms === 'trend') columns.push(new Float64Array(rows).map((_, row) => first + row - values.length / 2));
  columns.push(values.subarray(lags, lags + rows).map((value) => value - base));
  for (let lag = 1; lag <= lags; lag++) columns.push(changes.slice(first - lag, first - lag + rows));
  return { columns, y: changes.slice(first) };
}
