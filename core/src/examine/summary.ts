import { chiSquareTail, normalQuantile } from '../numeric/tails.js';
import { deviationsOf, isConstant, squaresOf, sumOf, validOf } from '../numeric/deviations.js';

/** The distribution of a column's values, whatever their order. NaN where there are too few values, or no spread. */
export interface Summary {
  count: number;
  missing: number;
  mean: number;
  stdev: number;
  skewness: number;
  kurtosis: number;
  min: number;
  max: number;
  quartiles: [number, number, number];
  /** Whether the values could be normal (Jarque and Bera 1980). */
  jarqueBera: { statistic: number; p: number };
  /** Counts between edges; none without values. */
  histogram: { edges: Float64Array; counts: Float64Array };
}

const MOST_BINS = 200;

/** @param x  values of any unit; @see definitions, sections 4 and 10 */
export function summary(x: Float64Array): Summary {
  const values = validOf(x).sort();
  const n = values.length;
  const d = deviationsOf(values);
  const power = (k: number) => d.reduce((sum, value) => sum + value ** k, 0);
  const squares = squaresOf(d);
  const isFlat = n === 0 || isConstant(values);
  const spread = isFlat ? 0 : squares;
  const [g1, g2] = isFlat ? [NaN, NaN] : [power(3) / n / (squares / n) ** 1.5, power(4) / n / (squares / n) ** 2 - 3];
  const statistic = (n / 6) * (g1 ** 2 + g2 ** 2 / 4);
  const quartiles = [0.25, 0.5, 0.75].map((p) => quantileOf(values, p)) as [number, number, number];
  return {
    count: n,
    missing: x.length - n,
    mean: n > 0 ? values[0] + sumOf(values.map((value) => value - values[0])) / n : NaN,
    stdev: n > 1 ? Math.sqrt(spread / (n - 1)) : NaN,
    // without bias: from the moments with divisor n
    skewness: n > 2 ? (g1 * Math.sqrt(n * (n - 1))) / (n - 2) : NaN,
    kurtosis: n > 3 ? ((n - 1) / ((n - 2) * (n - 3))) * ((n + 1) * g2 + 6) : NaN,
    min: n > 0 ? values[0] : NaN,
    max: n > 0 ? values[n - 1] : NaN,
    quartiles,
    jarqueBera: { statistic, p: chiSquareTail(statistic, 2) },
    histogram: histogramOf(values, quartiles),
  };
}

/** On the straight line between the values in order about it. */
export function quantileOf(sorted: Float64Array, p: number): number {
  if (sorted.length === 0) return NaN;
  const at = p * (sorted.length - 1);
  const below = Math.floor(at);
  const above = Math.min(sorted.length - 1, below + 1);
  return sorted[below] + (at - below) * (sorted[above] - sorted[below]);
}

/** Bins as wide as Freedman and Diaconis 1981 say, after Sturges 1926 where the quartiles meet. */
function histogramOf(sorted: Float64Array, [low, , high]: readonly number[]): Summary['histogram'] {
  const n = sorted.length;
  if (n === 0) return { edges: new Float64Array(0), counts: new Float64Array(0) };
  const [least, range] = [sorted[0], sorted[n - 1] - sorted[0]];
  if (range === 0) return { edges: Float64Array.of(least, least), counts: Float64Array.of(n) };
  const width = 2 * (high - low) * n ** (-1 / 3);
  const wanted = width > 0 ? Math.ceil(range / width) : Math.ceil(Math.log2(n)) + 1;
  const bins = Math.min(MOST_BINS, Math.max(1, wanted));
  const edges = Float64Array.from({ length: bins + 1 }, (_, bin) =>
    bin === bins ? sorted[n - 1] : least + (range * bin) / bins,
  );
  const counts = new Float64Array(bins);
  let bin = 0;
  for (const value of sorted) {
    while (bin < bins - 1 && value >= edges[bin + 1]) bin++;
    counts[bin]++;
  }
  return { edges, counts };
}

/**
 * Values in order beside where a normal variable would have them (Blom 1958).
 * @param most  points: of more values every so many are given, with the least and the greatest
 */
export function normalPlot(x: Float64Array, most = Infinity): { quantiles: Float64Array; values: Float64Array } {
  const sorted = validOf(x).sort();
  const n = sorted.length;
  const count = Math.min(n, most);
  const places = Float64Array.from({ length: count }, (_, at) =>
    count === n ? at : Math.round((at * (n - 1)) / (count - 1)),
  );
  return {
    quantiles: places.map((place) => normalQuantile((place + 1 - 0.375) / (n + 0.25))),
    values: places.map((place) => sorted[place]),
  };
}
