import { moveOfX, type Unit } from './units.js';
import { DAY, HOUR, SECOND } from '../time/instant.js';
import { rollingKurtosis, rollingSkewness, rollingStdev, rollingVariance, rollingZscore } from '../windows/moments.js';
import {
  rollingCount,
  rollingFirst,
  rollingLast,
  rollingMax,
  rollingMin,
  rollingQuantile,
  rollingRank,
} from '../windows/order.js';
import { rollingBeta, rollingCorrelation, rollingCovariance } from '../windows/pairs.js';
import { rollingMean, rollingSum } from '../windows/rollingSum.js';
import { rollingTrend, rollingWeightedMean, TREND_NEEDS, type TrendMeasure } from '../windows/trend.js';
import * as byHand from '../working/byHand.js';
import { aggregate, DIVISOR, divisorOf, leastValid, pairAggregate, WINDOW } from './aggregates.js';
import type { FunctionEntry, OptionRule, Settings } from './functionEntry.js';

const SUMS = 'arithmetic; sums after Ogita, Rump and Oishi 2005';
const SPREADS = 'Chan, Golub and LeVeque 1983';
const number = (): Unit => 'number';

const AGAINST: OptionRule = {
  kind: 'word',
  words: ['second', 'hour', 'day'],
  says: 'elapsed time to measure against, in this unit; rows if not given',
};
const AGAINST_UNITS: Record<string, number> = { second: SECOND, hour: HOUR, day: DAY };

const SORTED = 'a search and a move within a thousand values a row';

function trend(
  measure: TrendMeasure,
  told: Pick<FunctionEntry, 'sentence' | 'formula'> & { unit?: (units: readonly Unit[]) => Unit; remark?: string },
): FunctionEntry {
  return aggregate({
    name: measure,
    byHand: byHand[measure],
    source: 'least squares; Draper and Smith 1998',
    options: { against: AGAINST },
    ...told,
    compute: ([x], settings, rows) =>
      rollingTrend(
        x,
        measure,
        settings.window!,
        leastValid(settings, TREND_NEEDS[measure]),
        AGAINST_UNITS[settings.words.against ?? ''],
        rows,
      ),
  });
}

const moment =
  (needed: number, kernel: typeof rollingZscore): FunctionEntry['compute'] =>
  ([x], settings, rows) =>
    kernel(x, settings.window!, leastValid(settings, needed), rows);

/** Its formula and the names of its values are read by a reader of their own. */
export const windowFunction: FunctionEntry = {
  ...aggregate({
    name: 'window',
    sentence: 'Any formula over the values of each window; an aggregate in it takes all of them.',
    formula: 'f(x1, …, xm)',
    source: 'the formula',
    example: 'window(max(x) - min(x), x: close, 20 bars)',
    cost: 'O(N) a row',
    compute: ([x]) => x,
  }),
  parameters: [
    { kind: 'column', name: 'formula', says: 'the formula; options such as `x: close` name its values' },
    WINDOW,
  ],
};

export const windowFunctions: readonly FunctionEntry[] = [
  aggregate({
    name: 'mean',
    byHand: byHand.mean,
    sentence: 'The sum of the valid values in the window over their number.',
    formula: 'sum / m',
    source: SUMS,
    compute: moment(1, rollingMean),
  }),
  aggregate({
    name: 'sum',
    byHand: byHand.sum,
    sentence: 'The sum of the valid values in the window.',
    formula: 'x1 + … + xm',
    source: SUMS,
    compute: moment(1, rollingSum),
  }),
  aggregate({
    name: 'count',
    byHand: byHand.count,
    sentence: 'How many valid values there are in the window.',
    formula: 'm',
    source: 'arithmetic',
    unit: number,
    startsEarly: true,
    compute: ([x], settings, rows) => rollingCount(x, settings.window!, settings.numbers.from ?? 0, rows),
  }),
  aggregate({
    name: 'min',
    byHand: byHand.min,
    sentence: 'The least of the valid values in the window.',
    formula: 'min(x1, …, xm)',
    source: 'Lemire 2006',
    compute: moment(1, rollingMin),
  }),
  aggregate({
    name: 'max',
    byHand: byHand.max,
    sentence: 'The greatest of the valid values in the window.',
    formula: 'max(x1, …, xm)',
    source: 'Lemire 2006',
    compute: moment(1, rollingMax),
  }),
  aggregate({
    name: 'first',
    byHand: byHand.first,
    sentence: 'The first valid value in the window.',
    formula: 'x1',
    source: 'arithmetic',
    compute: moment(1, rollingFirst),
  }),
  aggregate({
    name: 'last',
    byHand: byHand.last,
    sentence: 'The last valid value in the window.',
    formula: 'xm',
    source: 'arithmetic',
    compute: moment(1, rollingLast),
  }),
  aggregate({
    name: 'median',
    byHand: byHand.median,
    sentence: 'The middle one of the valid values in the window, or the mean of the middle two.',
    formula: 'quantile at p = 0.5',
    source: 'order statistics',
    cost: SORTED,
    compute: ([x], settings, rows) => rollingQuantile(x, 0.5, settings.window!, leastValid(settings, 1), rows),
  }),
  aggregate({
    name: 'quantile',
    byHand: byHand.quantile,
    sentence: 'The value that a given share of the window lies below.',
    formula: 'linear between the order statistics about p (m - 1)',
    source: 'order statistics; Hyndman and Fan 1996, their seventh',
    cost: SORTED,
    example: 'quantile(close, 20 bars, p: 0.9)',
    options: { p: { kind: 'share', says: 'the share, 0 to 1' } },
    compute: ([x], settings, rows) =>
      rollingQuantile(x, settings.numbers.p ?? 0.5, settings.window!, leastValid(settings, 1), rows),
  }),
  aggregate({
    name: 'stdev',
    byHand: byHand.stdev,
    sentence: 'How far the values in the window lie from their mean, as the root of the mean square.',
    formula: 'sqrt(sum of (x - mean)^2 / (m - 1))',
    source: SPREADS,
    unit: moveOfX,
    options: { divisor: DIVISOR },
    compute: ([x], settings, rows) =>
      rollingStdev(x, settings.window!, leastValid(settings, 2), divisorOf(settings), rows),
  }),
  aggregate({
    name: 'variance',
    byHand: byHand.variance,
    sentence: 'The mean square of the distances from the mean of the window.',
    formula: 'sum of (x - mean)^2 / (m - 1)',
    source: SPREADS,
    unit: number,
    options: { divisor: DIVISOR },
    compute: ([x], settings, rows) =>
      rollingVariance(x, settings.window!, leastValid(settings, 2), divisorOf(settings), rows),
  }),
  aggregate({
    name: 'skewness',
    byHand: byHand.skewness,
    sentence: 'How far the values lean to one side of their mean; above 0 the far ones lie above it.',
    formula: 'm / ((m - 1)(m - 2)) × sum of ((x - mean) / s)^3',
    source: 'Fisher 1929',
    unit: number,
    compute: moment(3, rollingSkewness),
  }),
  aggregate({
    name: 'kurtosis',
    byHand: byHand.kurtosis,
    sentence: 'How heavy the tails are beside those of a normal variable, which has 0.',
    formula: 'm (m + 1) / ((m - 1)(m - 2)(m - 3)) × sum of ((x - mean) / s)^4 - 3 (m - 1)^2 / ((m - 2)(m - 3))',
    source: 'Fisher 1929',
    unit: number,
    compute: moment(4, rollingKurtosis),
  }),
  aggregate({
    name: 'zscore',
    byHand: byHand.zscore,
    sentence: 'How many standard deviations the value lies from the mean of its window.',
    formula: '(x - mean) / s',
    source: 'arithmetic',
    unit: number,
    compute: moment(2, rollingZscore),
  }),
  aggregate({
    name: 'rank',
    byHand: byHand.rank,
    sentence: 'The share of the window that lies below the value, ties counted half.',
    formula: '(below + 0.5 (equal - 1)) / (m - 1)',
    source: 'order statistics',
    unit: () => 'fraction',
    cost: SORTED,
    compute: moment(2, rollingRank),
  }),
  aggregate({
    name: 'wma',
    byHand: byHand.wma,
    sentence: 'A mean in which the newest value weighs N, the one before N - 1, and so on.',
    formula: 'sum of w x / sum of w, w = 1 … N',
    source: 'arithmetic',
    compute: moment(1, rollingWeightedMean),
  }),
  trend('slope', {
    sentence: 'How steeply the straight line through the window rises, a bar or a unit of time.',
    formula: 'sum of (p - mean p)(x - mean x) / sum of (p - mean p)^2, p the position',
    unit: moveOfX,
  }),
  trend('intercept', {
    sentence: "The value of the window's straight line at its last row, where positions count from 0.",
    formula: 'mean x - slope × mean p',
  }),
  trend('fit', {
    sentence: "The value of the window's straight line at its last row.",
    formula: 'intercept + slope × 0',
  }),
  trend('rsquared', {
    sentence: "The share of the window's spread that its straight line explains.",
    formula: '1 - residual squares / squares about the mean',
    unit: () => 'fraction',
  }),
  trend('slopeerror', {
    sentence: 'The standard error of the slope.',
    formula: 'sqrt(residual squares / (m - 2) / sum of (p - mean p)^2)',
    unit: moveOfX,
  }),
  trend('tvalue', {
    sentence: 'The slope over its standard error: beyond 2 or so a slope is hardly chance.',
    formula: 'slope / slopeerror',
    unit: number,
    remark: 'It takes the values about the line for independent; those of prices rarely are.',
  }),
  pairAggregate({
    name: 'covariance',
    byHand: byHand.covariance,
    sentence: 'How far two columns move together, in the product of their units.',
    formula: 'sum of (x - mean x)(y - mean y) / (m - 1)',
    source: SPREADS,
    options: { divisor: DIVISOR },
    compute: ([x, y], settings, rows) =>
      rollingCovariance(x, y, settings.window!, leastValid(settings, 2), divisorOf(settings), rows),
  }),
  pairAggregate({
    name: 'correlation',
    byHand: byHand.correlation,
    sentence: 'How far two columns move together, from -1 (against each other) over 0 to 1.',
    remark:
      'With itself some rows before, `correlation(x, lag(x), 60 bars)`, it tells what a column keeps of its past.',
    formula: 'covariance / (s of x × s of y)',
    source: 'Pearson 1895',
    compute: pair(rollingCorrelation),
  }),
  pairAggregate({
    name: 'beta',
    byHand: byHand.beta,
    sentence: 'How far the first column moves when the second moves by one.',
    formula: 'covariance / variance of y',
    source: 'least squares',
    compute: pair(rollingBeta),
  }),
  windowFunction,
];

function pair(kernel: typeof rollingCorrelation): FunctionEntry['compute'] {
  return ([x, y], settings: Settings, rows) => kernel(x, y, settings.window!, leastValid(settings, 2), rows);
}
