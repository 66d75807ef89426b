import { changingVariance, type ChangingVariance } from '../examine/changingVariance.js';
import { crossCorrelation as crossCorrelationOf } from '../examine/crossCorrelation.js';
import { cycles as cyclesOf, type Cycle } from '../examine/cycles.js';
import { groupSummaries, type GroupSummary } from '../examine/groups.js';
import { calendarGroups, type ProfileBy } from '../examine/profile.js';
import { seasonalShape as seasonalShapeOf } from '../examine/seasonalShape.js';
import { stationarity, type Stationarity } from '../examine/stationarity.js';
import { normalPlot, summary as summaryOf, type Summary } from '../examine/summary.js';
import { unitRoot, type Terms, type UnitRoot } from '../examine/unitRoot.js';
import { varianceRatio as varianceRatioOf } from '../examine/varianceRatio.js';
import { WEEKDAYS, type Calendar, type Weekday } from '../time/calendar.js';

/* What one column is like: the tests and measures by their usual names. Values have any unit, missing ones are NaN. */

export { autocorrelation, type Autocorrelation } from '../memory/autocorrelation.js';
export { rollingHurst, HURST_METHODS, type Hurst, type HurstMethod } from '../memory/hurst.js';

/** The distribution of values; NaN where there are too few of them, or no spread. */
export interface ColumnSummary extends Omit<Summary, 'jarqueBera' | 'histogram'> {
  jarquebera: Summary['jarqueBera'];
  histogram: Summary['histogram'] & { bins: number };
  /** Each value over the quantile that a normal variable would have there. */
  normal: { quantiles: Float64Array; values: Float64Array };
}

/**
 * Moments, quartiles, histogram and normality.
 * @param x  n values of any unit
 * @see definitions, sections 4 and 10; Jarque and Bera 1980, Freedman and Diaconis 1981
 */
export function summary(x: Float64Array): ColumnSummary {
  const { jarqueBera, histogram, ...figures } = summaryOf(x);
  const { edges, counts } = histogram;
  return {
    ...figures,
    jarquebera: jarqueBera,
    histogram: { bins: counts.length, edges, counts },
    normal: normalPlot(x),
  };
}

/**
 * The unit-root test (null: the column has a unit root).
 * @param x     n values of any unit; missing ones are left out first
 * @param lags  of differences in the regression, from 0; the lowest AIC decides if not given
 * @throws {ArgumentError} for lags that are no whole number from 0
 * @see definitions, section 10; Said and Dickey 1984, MacKinnon 2010
 */
export function adf(x: Float64Array, { terms = 'constant', lags }: { terms?: Terms; lags?: number } = {}): UnitRoot {
  return unitRoot(x, terms, lags);
}

/**
 * The stationarity test (null: the column is stationary about a constant or a trend).
 * @param x     n values of any unit; missing ones are left out first
 * @param lags  that the long-run variance takes in, from 0; chosen by the data if not given
 * @throws {ArgumentError} for lags that are no whole number from 0
 * @see definitions, section 10; Kwiatkowski, Phillips, Schmidt and Shin 1992
 */
export function kpss(
  x: Float64Array,
  { terms = 'constant', lags }: { terms?: 'constant' | 'trend'; lags?: number } = {},
): Stationarity {
  return stationarity(x, terms, lags);
}

/**
 * Whether returns go on or turn back over `q` rows (null: a random walk).
 * @param returns  n returns as fractions or log returns; missing ones are left out first
 * @param q        rows that are taken together, from 2
 * @throws {ArgumentError} for a q that is no whole number from 2
 * @see definitions, section 10; Lo and MacKinlay 1988
 */
export function varianceRatio(returns: Float64Array, q: number) {
  const { robustZ, robustP, ...figures } = varianceRatioOf(returns, q);
  return { ...figures, robust_z: robustZ, robust_p: robustP };
}

/**
 * Whether squared deviations depend on those before (null: they do not).
 * @param x     n returns; missing ones are left out first
 * @param lags  squared deviations in the regression, from 1
 * @throws {ArgumentError} for lags that are no whole number from 1
 * @see definitions, section 10; Engle 1982
 */
export const archTest = (x: Float64Array, lags: number): ChangingVariance => changingVariance(x, lags);

/**
 * The strongest cycles of a column, less its straight line.
 * @param x  n values of any unit; gaps are filled on straight lines
 * @see definitions, section 10; Fisher 1929
 */
export function cycles(x: Float64Array): { count: number; rows_filled: number; frequencies: number; peaks: Cycle[] } {
  const { count, filled, power, peaks } = cyclesOf(x);
  return { count, rows_filled: filled, frequencies: power.length, peaks };
}

/**
 * A column as trend, seasonal shape and remainder.
 * @param x       n values of any unit; gaps are filled on straight lines
 * @param period  rows of a season, from 2; `shape` is NaN where there are fewer than two seasons
 * @param by      whether the shape is added to the trend or multiplied with it
 * @throws {ArgumentError} for a period that is no whole number from 2
 * @see definitions, section 10; Wang, Smith and Hyndman 2006 (strength)
 */
export function seasonalShape(
  x: Float64Array,
  period: number,
  { by = 'difference' }: { by?: 'difference' | 'ratio' } = {},
) {
  const { filled, ...found } = seasonalShapeOf(x, period, by);
  return { ...found, rows_filled: filled };
}

/**
 * Values put together by a part of the calendar.
 * @param time      n instants, microseconds since the epoch
 * @param x         as many values of any unit
 * @param interval  seconds of a slot, where `by` is `slot`
 * @throws {ArgumentError} for slots of no length
 * @see definitions, section 10
 */
export function profile(
  time: Float64Array,
  x: Float64Array,
  calendar: Calendar,
  { by, interval }: { by: ProfileBy; interval?: number },
): { groups: (Omit<GroupSummary, 'group'> & { group: number | Weekday })[] } {
  const groups = calendarGroups(time, calendar, by, interval && interval * 1e6);
  const named = (group: number) => (by === 'weekday' ? WEEKDAYS[group] : group);
  return { groups: groupSummaries(x, groups).map((one) => ({ ...one, group: named(one.group) })) };
}

/**
 * How two columns move together, one of them some rows before or after the other.
 * @param x     n values of any unit
 * @param y     as many of another; rows without one of them are left out of both first
 * @param lags  the most rows apart, below n; a high value at lag k > 0 says that x leads y by k rows
 * @throws {ArgumentError} for lags that are not below n
 * @see definitions, section 10
 */
export function crossCorrelation(x: Float64Array, y: Float64Array, lags: number) {
  const found = crossCorrelationOf(x, y, lags);
  return { ...found, lags: Array.from(found.values, (_, at) => at - lags) };
}
