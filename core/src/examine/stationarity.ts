import { requireWhole } from '../arguments.js';
import { lessLine } from './straightLines.js';
import { deviationsOf, isConstant, NOTHING, squaresOf, validOf } from '../numeric/deviations.js';

/** Whether a column is stationary (null: it is), after Kwiatkowski, Phillips, Schmidt and Shin 1992. */
export interface Stationarity {
  count: number;
  missing: number;
  /** NaN where it cannot be told. */
  statistic: number;
  /** NaN beyond the table; `beyond` says on which side. */
  p: number;
  beyond: 'above 0.1' | 'below 0.01' | undefined;
  /** Rows apart that its long-run variance takes in. */
  lags: number;
  critical: { ten: number; five: number; twohalf: number; one: number };
}

const CRITICAL = {
  constant: { ten: 0.347, five: 0.463, twohalf: 0.574, one: 0.739 },
  trend: { ten: 0.119, five: 0.146, twohalf: 0.176, one: 0.216 },
} as const;
const CHANCES = [
  ['ten', 0.1],
  ['five', 0.05],
  ['twohalf', 0.025],
  ['one', 0.01],
] as const;

/**
 * The KPSS test about a constant, or about a straight line.
 * @param x     values of any unit; missing ones are left out first
 * @param lags  after Hobijn, Franses and Ooms 1998 where it is not said
 * @throws {ArgumentError} for lags that are no whole number from 0
 * @see definitions, section 10
 */
export function stationarity(x: Float64Array, terms: 'constant' | 'trend' = 'constant', lags?: number): Stationarity {
  const values = validOf(x);
  const n = values.length;
  if (lags !== undefined) requireWhole('lags', lags, { min: 0, max: Infinity });
  const critical = CRITICAL[terms];
  const found: Stationarity = {
    ...{ count: n, missing: x.length - n, statistic: NaN, p: NaN, beyond: undefined, lags: NaN },
    critical,
  };
  if (n === 0 || isConstant(values)) return found;
  const e = terms === 'trend' ? lessLine(values) : deviationsOf(values);
  if (!(squaresOf(e) > NOTHING * squaresOf(deviationsOf(values)))) return found;
  const used = lags ?? automaticLags(e);
  let variance = productsApart(e, 0);
  for (let j = 1; j <= used; j++) variance += 2 * (1 - j / (used + 1)) * productsApart(e, j);
  let [running, squares] = [0, 0];
  for (const value of e) {
    running += value;
    squares += running * running;
  }
  const statistic = squares / (n * n * variance);
  return { ...found, statistic, lags: used, ...chanceOf(statistic, critical) };
}

/** Mean of the products of values so many rows apart, with divisor n. */
function productsApart(e: Float64Array, rows: number): number {
  let sum = 0;
  for (let t = rows; t < e.length; t++) sum += e[t] * e[t - rows];
  return sum / e.length;
}

function automaticLags(e: Float64Array): number {
  const n = e.length;
  // the greatest q with q^9 <= n^2, exactly
  let q = Math.floor(n ** (2 / 9));
  while ((q + 1) ** 9 <= n * n) q++;
  while (q ** 9 > n * n) q--;
  let [s0, s1] = [productsApart(e, 0), 0];
  for (let j = 1; j <= q; j++) {
    const product = productsApart(e, j);
    s0 += 2 * product;
    s1 += 2 * j * product;
  }
  return Math.min(Math.floor(Math.sqrt(n)), Math.floor(1.1447 * ((s1 / s0) ** 2 * n) ** (1 / 3)));
}

/** On straight lines between the values of the table. */
function chanceOf(statistic: number, critical: Stationarity['critical']): Pick<Stationarity, 'p' | 'beyond'> {
  if (statistic < critical.ten) return { p: NaN, beyond: 'above 0.1' };
  if (statistic > critical.one) return { p: NaN, beyond: 'below 0.01' };
  for (let i = 1; i < CHANCES.length; i++) {
    const [[low, above], [high, below]] = [CHANCES[i - 1], CHANCES[i]];
    if (statistic > critical[high]) continue;
    const share = (statistic - critical[low]) / (critical[high] - critical[low]);
    return { p: above + share * (below - above), beyond: undefined };
  }
  return { p: NaN, beyond: undefined };
}
