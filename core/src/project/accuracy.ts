import { ArgumentError, requireWhole } from '../arguments.js';
import { quantileOf } from '../examine/summary.js';
import { validOf } from '../numeric/deviations.js';
import { studentBeyond } from '../numeric/tails.js';
import { EmaSearch } from './emaSearch.js';
import type { Model } from './model.js';
import { ModelRefusal, type Coefficients, type Found } from './outlook.js';
import { fitModel, projectionOf, type Projection } from './project.js';

/** How far projections were from what came, pooled over some of them. NaN of none. */
export interface Measures {
  count: number;
  me: number;
  mae: number;
  rmse: number;
  /** A fraction; `zeros` of the actual values could not be divided by. */
  mape: number;
  zeros: number;
  mase: number;
  /** Projections that had ends, and the share of values between them. */
  with80: number;
  inside80: number;
  with95: number;
  inside95: number;
}

/** The same for one number of rows ahead, held against the last value (Diebold and Mariano 1995). */
export interface AheadMeasures extends Measures {
  dm: number;
  dmp: number;
}

export interface ModelAccuracy {
  model: Model;
  /** Why it could not be tried. */
  refused?: string;
  /** By rows ahead, from 1. */
  ahead: AheadMeasures[];
  all: Measures;
  /** What it says at the last origin. */
  last?: Projection;
}

export interface Accuracy {
  /** Rows that were the last seen, among the values that are there. */
  origins: number[];
  /** Mean size of a change up to the first origin, by which MASE is measured. */
  scale: number;
  models: ModelAccuracy[];
}

export interface AccuracyChoices {
  horizon: number;
  /** The first origin; by default at seven tenths of the values. */
  first?: number;
  step?: number;
  /** Origins from one search for a model's numbers to the next. */
  refit?: number;
  /** Where ends come from: the model, or its own errors that were known by then. */
  intervals?: 'model' | 'errors';
  /** Rows of the changes that errors are measured by. */
  season?: number;
  /** Coefficients of an arima that are given, by its place among the models. */
  given?: readonly (Coefficients | undefined)[];
  /** Called with the share that is done; it may throw to stop. */
  goOn?: (share: number) => void;
}

/** So many errors at least are needed to tell ends by. */
const FEWEST_ERRORS = 20;
/** Projections that differ by no more of themselves are the same. */
const SAME = 1e-12;

/**
 * Holds models against what came: each is projected from many origins, with nothing later seen.
 * @param x  values of any unit; missing ones are left out first
 * @throws {ArgumentError} for choices that do not go with so many values
 * @see definitions, section 12
 */
export function accuracy(x: Float64Array, models: readonly Model[], choices: AccuracyChoices): Accuracy {
  const values = validOf(x);
  const n = values.length;
  const { horizon, step = 1, refit = 1, intervals = 'model', season = 1, given = [], goOn = () => undefined } = choices;
  requireWhole('horizon', horizon, { min: 1, max: 10_000 });
  requireWhole('step', step, { min: 1 });
  requireWhole('refit', refit, { min: 1 });
  requireWhole('season', season, { min: 1 });
  const first = choices.first ?? Math.max(0, Math.floor((7 * n) / 10) - 1);
  if (n < 2) throw new ArgumentError('values', 'at least 2', n);
  requireWhole('first', first, { min: 0, max: n - 2 });
  const origins: number[] = [];
  for (let origin = first; origin <= n - 2; origin += step) origins.push(origin);
  const scale = meanChange(values, first, season);
  return {
    origins,
    scale,
    models: models.map((model, at) => {
      const course = (share: number) => goOn((at + share) / models.length);
      return triedModel(values, model, { origins, given: given[at], scale, horizon, step, refit, intervals, course });
    }),
  };
}

interface Trial {
  given: Coefficients | undefined;
  origins: readonly number[];
  scale: number;
  horizon: number;
  step: number;
  refit: number;
  intervals: 'model' | 'errors';
  course: (share: number) => void;
}

function meanChange(values: Float64Array, first: number, season: number): number {
  let [sum, count] = [0, 0];
  for (let row = season; row <= first; row++) {
    sum += Math.abs(values[row] - values[row - season]);
    count++;
  }
  const mean = sum / count;
  return mean > 0 ? mean : NaN;
}

/** One projection for one row to come, and what came. */
interface Outcome {
  origin: number;
  value: number;
  actual: number;
  ends: readonly [low80: number, high80: number, low95: number, high95: number];
}

function triedModel(values: Float64Array, model: Model, trial: Trial): ModelAccuracy {
  const { origins, horizon, scale, step } = trial;
  try {
    const { outcomes, last } = projected(values, model, trial);
    return {
      model,
      ahead: outcomes.map((some, at) => ({
        ...measuresOf(some, scale),
        ...againstLast(some, values, Math.ceil((at + 1) / step)),
      })),
      all: measuresOf(outcomes.flat(), scale),
      last,
    };
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    const none = { ...measuresOf([], scale), dm: NaN, dmp: NaN };
    const ahead = Array.from({ length: origins.length > 0 ? horizon : 0 }, () => none);
    return { model, refused: error.message, ahead, all: measuresOf([], scale) };
  }
}

/** The outcomes of a model by rows ahead, and its last projection. */
function projected(values: Float64Array, model: Model, { origins, given, horizon, refit, intervals, course }: Trial) {
  const outcomes: Outcome[][] = Array.from({ length: horizon }, () => []);
  const searchesFactor = model.kind === 'ema' && model.factor === undefined;
  let search: EmaSearch | undefined;
  let kept: Found = {};
  let last: Projection | undefined;
  origins.forEach((origin, at) => {
    course(at / origins.length);
    const seen = values.subarray(0, origin + 1);
    const isRefit = at % refit === 0;
    if (isRefit) kept = { coefficients: given };
    if (searchesFactor && isRefit && seen.length >= 3) {
      search ??= new EmaSearch(model.isOfLogs ? values.map(Math.log) : values);
      kept = { factor: search.best(seen.length) };
    }
    const fitted = fitModel(seen, model, kept);
    if (isRefit) kept = fitted.found;
    const projection = projectionOf(fitted, model, horizon);
    if (intervals === 'errors') takeEnds(projection, outcomes, origin);
    last = projection;
    for (let h = 1; h <= horizon && origin + h < values.length; h++)
      outcomes[h - 1].push({
        origin,
        value: projection.value[h - 1],
        actual: values[origin + h],
        ends: [projection.low80[h - 1], projection.high80[h - 1], projection.low95[h - 1], projection.high95[h - 1]],
      });
  });
  return { outcomes, last };
}

/** Ends from the errors that were known at an origin. */
function takeEnds(projection: Projection, outcomes: readonly Outcome[][], origin: number): void {
  outcomes.forEach((some, at) => {
    const known = some.filter((one) => one.origin + at + 1 <= origin).map(({ actual, value }) => actual - value);
    const sorted = Float64Array.from(known).sort();
    const end = (p: number) => (sorted.length >= FEWEST_ERRORS ? projection.value[at] + quantileOf(sorted, p) : NaN);
    projection.low80[at] = end(0.1);
    projection.high80[at] = end(0.9);
    projection.low95[at] = end(0.025);
    projection.high95[at] = end(0.975);
  });
}

function measuresOf(outcomes: readonly Outcome[], scale: number): Measures {
  const count = outcomes.length;
  let [sum, sizes, squares, shares, zeros] = [0, 0, 0, 0, 0];
  const [having, inside] = [
    [0, 0],
    [0, 0],
  ];
  for (const { value, actual, ends } of outcomes) {
    const error = actual - value;
    sum += error;
    sizes += Math.abs(error);
    squares += error * error;
    if (actual === 0) zeros++;
    else shares += Math.abs(error / actual);
    for (const at of [0, 1]) {
      const [low, high] = [ends[2 * at], ends[2 * at + 1]];
      if (Number.isNaN(low) || Number.isNaN(high)) continue;
      having[at]++;
      if (actual >= low && actual <= high) inside[at]++;
    }
  }
  return {
    count,
    me: sum / count,
    mae: sizes / count,
    rmse: Math.sqrt(squares / count),
    mape: shares / (count - zeros),
    zeros,
    mase: sizes / count / scale,
    with80: having[0],
    inside80: inside[0] / having[0],
    with95: having[1],
    inside95: inside[1] / having[1],
  };
}

/** The test on squared errors beside those of the last value, in its form for few origins (Harvey, Leybourne and Newbold 1997). */
function againstLast(outcomes: readonly Outcome[], values: Float64Array, h: number): { dm: number; dmp: number } {
  const m = outcomes.length;
  const d = Float64Array.from(outcomes, ({ origin, value, actual }) => {
    const last = values[origin];
    return Math.abs(value - last) <= SAME * Math.abs(value) ? 0 : (actual - last) ** 2 - (actual - value) ** 2;
  });
  const mean = d.reduce((total, one) => total + one, 0) / m;
  const g = (lag: number) => {
    let total = 0;
    for (let at = lag; at < m; at++) total += (d[at] - mean) * (d[at - lag] - mean);
    return total / m;
  };
  let variance = m > 0 ? g(0) : NaN;
  for (let lag = 1; lag < h; lag++) variance += 2 * g(lag);
  const square = d.reduce((total, one) => total + one * one, 0) / m;
  if (m <= h || !(variance > 1e-18 * square)) return { dm: NaN, dmp: NaN };
  const few = Math.sqrt((m + 1 - 2 * h + (h * (h - 1)) / m) / m);
  const dm = (mean / Math.sqrt(variance / m)) * few;
  return { dm, dmp: studentBeyond(dm, m - 1) };
}
