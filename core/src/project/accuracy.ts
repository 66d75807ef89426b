import { ArgumentError, requireWhole } from '../arguments.js';
import { quantileOf } from '../examine/summary.js';
import { validOf } from '../numeric/deviations.js';
import { studentBeyond } from '../numeric/tails.js';
import { EmaSearch } from './emaSearch.js';
import type { Model } from './model.js';
import { ModelRefusal, type Coefficients, type Found } from './outlook.js';
import { fitModel, keepsRows, projectionAtValues, seenBy, type Projection } from './project.js';
import { isFinite } from '../windows/anchoredSums.js';

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

interface ModelAccuracy {
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
/** Projections of one model that are held in memory at once. */
const MOST_OUTCOMES = 5_000_000;
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
  const count = Math.floor((n - 2 - first) / step) + 1;
  if (count * horizon > MOST_OUTCOMES)
    throw new ArgumentError(
      'origins times horizon',
      `at most ${MOST_OUTCOMES.toLocaleString('en')}`,
      (count * horizon).toLocaleString('en'),
    );
  const series: Series = { x, values, rows: Int32Array.from(x.keys()).filter((row) => isFinite(x[row])) };
  const origins: number[] = [];
  for (let origin = first; origin <= n - 2; origin += step) origins.push(origin);
  const scale = meanChange(values, first, season);
  return {
    origins,
    scale,
    models: models.map((model, at) => {
      const course = (share: number) => goOn((at + share) / models.length);
      return triedModel(series, model, { origins, given: given[at], scale, horizon, step, refit, intervals, course });
    }),
  };
}

/** A column, its values that are there, and their rows. */
interface Series {
  x: Float64Array;
  values: Float64Array;
  rows: Int32Array;
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

/** What a model said of so many rows ahead, an origin a row; what came stands in the values themselves. */
interface Outcomes {
  ahead: number;
  count: number;
  value: Float64Array;
  low80: Float64Array;
  high80: Float64Array;
  low95: Float64Array;
  high95: Float64Array;
}
const ENDS = ['low80', 'high80', 'low95', 'high95'] as const;

function triedModel(series: Series, model: Model, trial: Trial): ModelAccuracy {
  const { values } = series;
  const { origins, horizon, scale, step } = trial;
  const judged = (some: readonly Outcomes[]) => measuresOf(some, values, origins, scale);
  try {
    const { outcomes, last } = projected(series, model, trial);
    return {
      model,
      ahead: outcomes.map((some, at) => ({
        ...judged([some]),
        ...againstLast(some, values, origins, Math.ceil((at + 1) / step)),
      })),
      all: judged(outcomes),
      last,
    };
  } catch (error) {
    if (!(error instanceof ModelRefusal)) throw error;
    const none = { ...judged([]), dm: NaN, dmp: NaN };
    return { model, refused: error.message, ahead: Array.from({ length: horizon }, () => none), all: judged([]) };
  }
}

/** The outcomes of a model by rows ahead, and its last projection. */
function projected(
  { x, values, rows }: Series,
  model: Model,
  { origins, given, horizon, refit, intervals, course }: Trial,
) {
  const column = () => new Float64Array(origins.length);
  const outcomes = Array.from({ length: horizon }, (_, at): Outcomes => ({
    ...{ ahead: at + 1, count: 0, value: column() },
    ...{ low80: column(), high80: column(), low95: column(), high95: column() },
  }));
  const searchesFactor = model.kind === 'ema' && model.factor === undefined;
  let search: EmaSearch | undefined;
  let kept: Found = {};
  let last: Projection | undefined;
  origins.forEach((origin, at) => {
    const goOn = () => course(at / origins.length);
    goOn();
    // some models keep missing rows: the next value may be several rows ahead
    const seen = keepsRows(model) ? seenBy(model, x.subarray(0, rows[origin] + 1)) : values.subarray(0, origin + 1);
    const isRefit = at % refit === 0;
    if (isRefit) kept = { coefficients: given };
    if (searchesFactor && isRefit && seen.length >= 3) {
      search ??= new EmaSearch(model.isOfLogs ? values.map(Math.log) : values);
      kept = { factor: search.best(seen.length) };
    }
    const fitted = fitModel(seen, model, kept, goOn);
    if (isRefit) kept = fitted.found;
    last = projectionAtValues(fitted, model, rows, origin, horizon);
    if (intervals === 'errors') takeEnds(last, origin, outcomes, values, origins);
    for (const some of outcomes) {
      if (origin + some.ahead >= values.length) break;
      some.value[at] = last.value[some.ahead - 1];
      for (const end of ENDS) some[end][at] = last[end][some.ahead - 1];
      some.count++;
    }
  });
  return { outcomes, last };
}

/** Ends from the errors that were known at an origin. */
function takeEnds(
  projection: Projection,
  origin: number,
  outcomes: readonly Outcomes[],
  values: Float64Array,
  origins: readonly number[],
): void {
  for (const { ahead, count, value } of outcomes) {
    let known = 0;
    while (known < count && origins[known] + ahead <= origin) known++;
    const errors = Float64Array.from({ length: known }, (_, at) => values[origins[at] + ahead] - value[at]).sort();
    const end = (p: number) => (known >= FEWEST_ERRORS ? projection.value[ahead - 1] + quantileOf(errors, p) : NaN);
    [0.1, 0.9, 0.025, 0.975].forEach((p, at) => (projection[ENDS[at]][ahead - 1] = end(p)));
  }
}

function measuresOf(
  some: readonly Outcomes[],
  values: Float64Array,
  origins: readonly number[],
  scale: number,
): Measures {
  let [count, sum, sizes, squares, shares, zeros] = [0, 0, 0, 0, 0, 0];
  const held = { with80: 0, inside80: 0, with95: 0, inside95: 0 };
  for (const { ahead, count: own, value, low80, high80, low95, high95 } of some) {
    count += own;
    for (let at = 0; at < own; at++) {
      const actual = values[origins[at] + ahead];
      const error = actual - value[at];
      sum += error;
      sizes += Math.abs(error);
      squares += error * error;
      if (actual === 0) zeros++;
      else shares += Math.abs(error / actual);
      if (low80[at] <= high80[at]) held.with80++;
      if (actual >= low80[at] && actual <= high80[at]) held.inside80++;
      if (low95[at] <= high95[at]) held.with95++;
      if (actual >= low95[at] && actual <= high95[at]) held.inside95++;
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
    with80: held.with80,
    inside80: held.inside80 / held.with80,
    with95: held.with95,
    inside95: held.inside95 / held.with95,
  };
}

/** The test on squared errors beside those of the last value, in its form for few origins (Harvey, Leybourne and Newbold 1997). */
function againstLast(
  { ahead, count: m, value }: Outcomes,
  values: Float64Array,
  origins: readonly number[],
  h: number,
): { dm: number; dmp: number } {
  const d = value.subarray(0, m).map((said, at) => {
    const [last, actual] = [values[origins[at]], values[origins[at] + ahead]];
    return Math.abs(said - last) <= SAME * Math.abs(said) ? 0 : (actual - last) ** 2 - (actual - said) ** 2;
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
