import { requireSameLength, requireWhole } from '../arguments.js';
import { quantileOf } from '../examine/summary.js';
import { normalQuantile } from '../numeric/tails.js';
import { randomUnits } from '../numeric/randomUnits.js';
import type { Model } from './model.js';
import { ModelRefusal, type Fitted } from './outlook.js';
import { fitModel, projectionOf } from './project.js';

/** What comes of one way to an item's value: by itself, or as a share of its driver. */
interface ShareOutcome {
  /** Places among the models: of the item or of its share, and of the driver where it is a share. */
  model: number;
  driver: number | undefined;
  value: number;
  /** What the value is the product of, where it is a share: the forecast share, and the forecast of the driver. */
  factors?: { share: number; driver: number };
}

/** The share itself by one model for both columns, with the ends that 80 and 95 of 100 draws lie between. */
export interface ShareAhead {
  /** The ratio of both forecasts. */
  value: number;
  /** The share as a series of its own, forecast by the model; NaN if it cannot have it. */
  forecast: number;
  low80: number;
  high80: number;
  low95: number;
  high95: number;
}

export interface Shares {
  /** Rows that have both values. */
  rows: number;
  outcomes: ShareOutcome[];
  /** Lower quartile, median and upper quartile of the outcomes. */
  quartiles: [number, number, number];
  /** By model; why there is none otherwise. */
  shares: (ShareAhead | string)[];
}

const DRAWS = 2000;
/** One-step errors that the correlation of two columns is taken from. */
const MOST_ERRORS = 200;

/**
 * An item and its driver so many rows ahead: the item by each model, and as a share of the driver, where the share goes on by
 * each model and the driver by each. A model that cannot have the values is left out.
 * @param item     values up to the origin, rows without both are left out
 * @param driver   as long
 * @param horizon  rows ahead, from 1
 * @param goOn     called in between; it may throw to stop
 * @throws {ArgumentError} where the columns are not of one length
 * @see definitions, section 13, share of a whole
 */
export function sharesAhead(
  item: Float64Array,
  driver: Float64Array,
  models: readonly Model[],
  horizon: number,
  goOn: () => void = () => undefined,
): Shares {
  requireWhole('horizon', horizon, { min: 1, max: 10_000 });
  requireSameLength('driver', driver, item.length);
  const isThere = (_: number, row: number) => isFinite(item[row]) && isFinite(driver[row]);
  const [y, x] = [item.filter(isThere), driver.filter(isThere)];
  const share = y.map((value, row) => value / x[row]);
  const [ofItem, ofDriver, ofShare] = [y, x, share].map((values) =>
    models.map((model) => attempt(values, model, goOn)),
  );
  const at = (fit: Fitted | string, model: Model) =>
    typeof fit === 'string' ? NaN : projectionOf(fit, model, horizon).value[horizon - 1];
  const direct = models.map((model, place) => ({ model: place, driver: undefined, value: at(ofItem[place], model) }));
  const drivers = models.map((model, place) => at(ofDriver[place], model));
  const asShares = models.flatMap((model, place) => {
    const part = at(ofShare[place], model);
    return drivers.map((whole, other) => ({
      ...{ model: place, driver: other, value: part * whole },
      factors: { share: part, driver: whole },
    }));
  });
  const outcomes = [...direct, ...asShares].filter(({ value }) => isFinite(value));
  const sorted = Float64Array.from(outcomes, ({ value }) => value).sort();
  return {
    rows: y.length,
    outcomes,
    quartiles: [quantileOf(sorted, 0.25), quantileOf(sorted, 0.5), quantileOf(sorted, 0.75)],
    shares: models.map((model, place) => {
      const [a, b] = [ofItem[place], ofDriver[place]];
      if (typeof a === 'string') return a;
      if (typeof b === 'string') return `of the driver: ${b}`;
      const correlation = correlationOf(oneStepErrors(y, model, a, goOn), oneStepErrors(x, model, b, goOn));
      const forecast = at(ofShare[place], model);
      return { ...drawn(pathsEnd(a, model, horizon), pathsEnd(b, model, horizon), correlation), forecast };
    }),
  };
}

function attempt(values: Float64Array, model: Model, goOn: () => void): Fitted | string {
  try {
    if (!values.every(isFinite)) return 'the driver is 0 in a row, and nothing is a share of that';
    return fitModel(values, model, {}, goOn);
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    return error.message;
  }
}

/** A value ahead for each number of deviations off its middle. */
function pathsEnd(fit: Fitted, model: Model, horizon: number): (z: number) => number {
  const { value, deviation } = fit.ahead(horizon);
  const [middle, width] = [value[horizon - 1], deviation[horizon - 1]];
  if (model.isOfLogs) return (z) => Math.exp(middle + z * width);
  return fit.hasLogDeviations ? (z) => middle * Math.exp(z * width) : (z) => middle + z * width;
}

function drawn(
  item: (z: number) => number,
  driver: (z: number) => number,
  correlation: number,
): Omit<ShareAhead, 'forecast'> {
  const units = randomUnits(1);
  const rest = Math.sqrt(1 - correlation ** 2);
  const values = Float64Array.from({ length: DRAWS }, () => {
    const [a, b] = [normalQuantile(units()), normalQuantile(units())];
    return item(a) / driver(correlation * a + rest * b);
  });
  const sorted = values.every(isFinite) ? values.sort() : new Float64Array(0);
  const [low95, low80, high80, high95] = [0.025, 0.1, 0.9, 0.975].map((p) => quantileOf(sorted, p));
  return { value: item(0) / driver(0), low80, high80, low95, high95 };
}

/** Errors one row ahead over the last rows; what was searched for stays. Rows that the model cannot start from give none. */
function oneStepErrors(x: Float64Array, model: Model, { found }: Fitted, goOn: () => void): Float64Array {
  const count = Math.min(MOST_ERRORS, x.length - 1);
  return Float64Array.from({ length: count }, (_, place) => {
    const row = x.length - count + place;
    try {
      const fit = fitModel(x.slice(0, row), model, found, goOn);
      return x[row] - projectionOf(fit, model, 1).value[0];
    } catch (error) {
      if (!(error instanceof ModelRefusal)) throw error;
      return NaN;
    }
  });
}

/** Pearson's; 0 where it cannot be told. */
function correlationOf(a: Float64Array, b: Float64Array): number {
  const rows = Array.from(a.keys()).filter((row) => isFinite(a[row]) && isFinite(b[row]));
  const mean = (x: Float64Array) => rows.reduce((sum, row) => sum + x[row], 0) / rows.length;
  const [meanA, meanB] = [mean(a), mean(b)];
  const sum = (of: (row: number) => number) => rows.reduce((total, row) => total + of(row), 0);
  const both = sum((row) => (a[row] - meanA) * (b[row] - meanB));
  const scale = Math.sqrt(sum((row) => (a[row] - meanA) ** 2) * sum((row) => (b[row] - meanB) ** 2));
  return scale > 0 ? Math.max(-1, Math.min(1, both / scale)) : 0;
}
