import type { Step } from '../catalogue/functionEntry.js';

/** What a window holds at one row: its valid values, their positions (the window's last row is 0), and the row's own value. */
export interface Held {
  values: readonly number[];
  positions: readonly number[];
  own: number;
  /** N of the weights of `wma`: the window's length. */
  length: number;
  /** Options by name. */
  numbers: Readonly<Record<string, number>>;
  divisor: 'm-1' | 'm';
}

const total = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0);
const rising = (values: readonly number[]): number[] => [...values].sort((a, b) => a - b);

/** Sum, mean, squares and deviation, each said. */
function spread({ values, divisor }: Held): { steps: Step[]; mean: number; squares: number; deviation: number } {
  const m = values.length;
  const mean = total(values) / m;
  const squares = total(values.map((value) => (value - mean) ** 2));
  const deviation = Math.sqrt(squares / (divisor === 'm' ? m : m - 1));
  const steps = [
    { says: 'm, the values that count', value: m },
    { says: 'mean', value: mean },
    { says: 'sum of (x - mean)^2', value: squares },
    { says: `s, the root of that over ${divisor === 'm' ? 'm' : 'm - 1'}`, value: deviation },
  ];
  return { steps, mean, squares, deviation };
}

function orderStatistic(values: readonly number[], p: number): Step[] {
  const sorted = rising(values);
  const place = p * (sorted.length - 1);
  const low = sorted[Math.floor(place)];
  const high = sorted[Math.ceil(place)];
  return [
    { says: 'm, the values that count', value: values.length },
    { says: 'place p (m - 1) among them in order, from 0', value: place },
    { says: 'value at or below that place', value: low },
    { says: 'value at or above it', value: high },
    { says: 'result', value: low + (place % 1) * (high - low) },
  ];
}

function line({ values, positions }: Held): { steps: Step[]; results: Record<string, number> } {
  const m = values.length;
  const meanP = total(positions) / m;
  const meanX = total(values) / m;
  const pp = total(positions.map((p) => (p - meanP) ** 2));
  const px = total(positions.map((p, i) => (p - meanP) * (values[i] - meanX)));
  const xx = total(values.map((x) => (x - meanX) ** 2));
  const slope = px / pp;
  const residual = total(values.map((x, i) => (x - meanX - slope * (positions[i] - meanP)) ** 2));
  const slopeerror = Math.sqrt(residual / (m - 2) / pp);
  const fit = meanX - slope * meanP;
  const steps = [
    { says: 'm, the values that count', value: m },
    { says: 'mean position', value: meanP },
    { says: 'mean value', value: meanX },
    { says: 'sum of (p - mean p)(x - mean x)', value: px },
    { says: 'sum of (p - mean p)^2', value: pp },
    { says: 'slope', value: slope },
    { says: 'sum of the squares about the line', value: residual },
  ];
  const results = { fit, intercept: fit, rsquared: 1 - residual / xx, slopeerror, tvalue: slope / slopeerror };
  return { steps, results };
}

const trend =
  (name: string) =>
  (held: Held): Step[] => {
    const { steps, results } = line(held);
    return [...steps, { says: name, value: results[name] }];
  };

const simple =
  (says: string, of: (held: Held) => number) =>
  (held: Held): Step[] => [
    { says: 'm, the values that count', value: held.values.length },
    { says, value: of(held) },
  ];

/** Works out an aggregate of one column from the values of its window; the last step is the result. */
export type ByHand = (held: Held) => Step[];

/* Aggregates of one column. */

export const count: ByHand = ({ values }) => [{ says: 'm, the values that count', value: values.length }];

export const sum: ByHand = simple('sum', ({ values }) => total(values));

export const mean: ByHand = ({ values }) => [
  { says: 'sum', value: total(values) },
  { says: 'm, the values that count', value: values.length },
  { says: 'sum / m', value: total(values) / values.length },
];

export const min: ByHand = simple('least', ({ values }) => Math.min(...values));

export const max: ByHand = simple('greatest', ({ values }) => Math.max(...values));

export const first: ByHand = simple('first', ({ values }) => values[0]);

export const last: ByHand = simple('last', ({ values }) => values[values.length - 1]);

export const median: ByHand = ({ values }) => orderStatistic(values, 0.5);

export const quantile: ByHand = ({ values, numbers }) => orderStatistic(values, numbers.p ?? 0.5);

export const stdev: ByHand = (held) => spread(held).steps;

export const variance: ByHand = (held) => {
  const { steps, deviation } = spread(held);
  return [...steps.slice(0, 3), { says: 'variance', value: deviation ** 2 }];
};

export const zscore: ByHand = (held) => {
  const { steps, mean, deviation } = spread(held);
  return [...steps, { says: '(x - mean) / s', value: (held.own - mean) / deviation }];
};

export const skewness: ByHand = (held) => {
  const { steps, mean, deviation } = spread(held);
  const m = held.values.length;
  const cubes = total(held.values.map((x) => ((x - mean) / deviation) ** 3));
  return [
    ...steps,
    { says: 'sum of ((x - mean) / s)^3', value: cubes },
    { says: 'times m / ((m - 1)(m - 2))', value: (cubes * m) / ((m - 1) * (m - 2)) },
  ];
};

export const kurtosis: ByHand = (held) => {
  const { steps, mean, deviation } = spread(held);
  const m = held.values.length;
  const fourths = total(held.values.map((x) => ((x - mean) / deviation) ** 4));
  const weight = (m * (m + 1)) / ((m - 1) * (m - 2) * (m - 3));
  return [
    ...steps,
    { says: 'sum of ((x - mean) / s)^4', value: fourths },
    {
      says: 'weighed, less what a normal variable has',
      value: weight * fourths - (3 * (m - 1) ** 2) / ((m - 2) * (m - 3)),
    },
  ];
};

export const rank: ByHand = ({ values, own }) => {
  const below = values.filter((x) => x < own).length;
  const equal = values.filter((x) => x === own).length;
  return [
    { says: 'm, the values that count', value: values.length },
    { says: 'values below this one', value: below },
    { says: 'values equal to it', value: equal },
    { says: '(below + 0.5 (equal - 1)) / (m - 1)', value: (below + 0.5 * (equal - 1)) / (values.length - 1) },
  ];
};

export const wma: ByHand = ({ values, positions, length }) => {
  const weights = positions.map((p) => length + p);
  const weighed = total(values.map((x, i) => x * weights[i]));
  return [
    { says: 'sum of weight times value', value: weighed },
    { says: 'sum of the weights', value: total(weights) },
    { says: 'weighed mean', value: weighed / total(weights) },
  ];
};

export const slope: ByHand = (held) => line(held).steps.slice(0, -1);

export const intercept: ByHand = trend('intercept');

export const fit: ByHand = trend('fit');

export const rsquared: ByHand = trend('rsquared');

export const slopeerror: ByHand = trend('slopeerror');

export const tvalue: ByHand = trend('tvalue');

/** Works out an aggregate of two columns from the rows where both are valid; the last step is the result. */
export type PairByHand = (x: readonly number[], y: readonly number[], divisor: 'm-1' | 'm') => Step[];

function products(x: readonly number[], y: readonly number[]): { steps: Step[]; xy: number; xx: number; yy: number } {
  const m = x.length;
  const [meanX, meanY] = [total(x) / m, total(y) / m];
  const xy = total(x.map((value, i) => (value - meanX) * (y[i] - meanY)));
  const xx = total(x.map((value) => (value - meanX) ** 2));
  const yy = total(y.map((value) => (value - meanY) ** 2));
  const steps = [
    { says: 'm, the rows where both are valid', value: m },
    { says: 'mean of x', value: meanX },
    { says: 'mean of y', value: meanY },
    { says: 'sum of (x - mean x)(y - mean y)', value: xy },
  ];
  return { steps, xy, xx, yy };
}

const squares = (xx: number, yy: number): Step[] => [
  { says: 'sum of (x - mean x)^2', value: xx },
  { says: 'sum of (y - mean y)^2', value: yy },
];

export const covariance: PairByHand = (x, y, divisor) => {
  const { steps, xy } = products(x, y);
  const over = divisor === 'm' ? x.length : x.length - 1;
  return [...steps, { says: `that over ${divisor}`, value: xy / over }];
};

export const correlation: PairByHand = (x, y) => {
  const { steps, xy, xx, yy } = products(x, y);
  const says = 'first over the root of the product of the others';
  return [...steps, ...squares(xx, yy), { says, value: xy / Math.sqrt(xx * yy) }];
};

export const beta: PairByHand = (x, y) => {
  const { steps, xy, xx, yy } = products(x, y);
  return [...steps, ...squares(xx, yy), { says: 'first over the last', value: xy / yy }];
};
