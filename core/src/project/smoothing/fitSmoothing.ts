import { squaresOf, validOf } from '../../numeric/deviations.js';
import { isFinite } from '../../windows/anchoredSums.js';
import type { SmoothModel } from '../model.js';
import { ModelRefusal, type Fitted } from '../outlook.js';
import { EXACT, leastErrors } from './leastErrors.js';
import { seasonsOf, stateCount, WEIGHT_NAMES, type Shape, type WeightName, type Weights } from './recursion.js';

/** States by their names; seasons in the order of the rows that they are for. */
export interface States {
  level: number;
  trend?: number;
  season?: number[];
}

/** A smoothing model that values were given to. */
export interface FittedSmoothing extends Fitted {
  model: SmoothModel;
  weights: Partial<Weights>;
  /** Weights that were searched for. */
  searched: readonly WeightName[];
  /** Values that are there, and numbers that were fitted, the variance among them. */
  count: number;
  parameters: number;
  /** NaN where nothing is left to explain. */
  logLikelihood: number;
  variance: number;
  aic: number;
  aicc: number;
  bic: number;
  isExact: boolean;
  start: States;
  end: States;
  /** One a row from the first value to the last. */
  fittedValues: Float64Array;
  /** One-step errors of the rows that have a value. */
  residuals: Float64Array;
}

/** Weights that a model has. */
const weightsOf = ({ trend, season }: Pick<SmoothModel, 'trend' | 'season'>): WeightName[] =>
  WEIGHT_NAMES.filter(
    (name) =>
      name === 'level' ||
      (name === 'trend' && trend !== 'none') ||
      (name === 'season' && season !== undefined) ||
      (name === 'damping' && trend === 'damped'),
  );

/** Weights that are not given. */
export const searchedOf = (model: SmoothModel): WeightName[] =>
  weightsOf(model).filter((name) => model.weights[name] === undefined);

/**
 * Fits exponential smoothing by least squares of its one-step errors.
 * @param x      values from the first to the last that is there; NaN between them keep their rows
 * @param given  weights that an earlier fit has found, which are not searched for
 * @param goOn   called during the search; it may throw to stop
 * @throws {ModelRefusal} for too few values, values that the kind cannot have, and weights out of their ranges
 * @see definitions, section 15; Holt 1957, Winters 1960, Gardner and McKenzie 1985
 */
export function fitSmoothing(
  x: Float64Array,
  model: SmoothModel,
  given: Partial<Weights> = {},
  goOn?: () => void,
): FittedSmoothing {
  const shape: Shape = model;
  const own = weightsOf(model);
  requireWeights(model, own);
  const searched = searchedOf(model);
  const count = validOf(x).length;
  const parameters = searched.length + stateCount(shape) + 1;
  requireRows(x, model, count, parameters);
  // about the first value, so that numbers around 1e9 keep their digits
  const base = model.isMultiplied ? 0 : x[0];
  const values = base === 0 ? x : x.map((value) => value - base);
  const weights = { ...given, ...model.weights };
  const free = own.filter((name) => weights[name] === undefined);
  const best = leastErrors(values, shape, weights, free, goOn);
  if (best.run.squares === Infinity)
    throw new ModelRefusal(
      model.isMultiplied
        ? 'no states above 0 were found for a multiplied season'
        : 'the values are too large to be squared',
    );
  const { squares, errors, fitted, level, slope, seasons } = best.run;
  const isExact = squares <= EXACT * squaresOf(validOf(x));
  const logLikelihood = isExact ? NaN : (-count / 2) * (Math.log((2 * Math.PI * squares) / count) + 1);
  const variance = isExact ? 0 : squares / (count - parameters + 1);
  const hasTrend = model.trend !== 'none';
  const statesOf = (l: number, r: number, q: Float64Array): States => ({
    level: l + base,
    ...(hasTrend && { trend: r }),
    ...(model.season && { season: [...q] }),
  });
  const found = Object.fromEntries(own.map((name) => [name, best.weights[name]])) as Partial<Weights>;
  const aic = -2 * logLikelihood + 2 * parameters;
  // the place that the row behind the last one has
  const turned = model.season ? rotated(seasons, x.length % model.season) : seasons;
  return {
    ...{ model, weights: found, searched, count, parameters, logLikelihood, variance, isExact, aic },
    aicc: aic + (2 * parameters * (parameters + 1)) / (count - parameters - 1),
    bic: -2 * logLikelihood + parameters * Math.log(count),
    start: statesOf(best.start[0], hasTrend ? best.start[1] : 0, seasonsOf(shape, best.start)),
    end: statesOf(level, slope, turned),
    fittedValues: base === 0 ? fitted : fitted.map((value) => value + base),
    residuals: errors.filter(isFinite),
    found: { smoothing: found },
    ahead: (horizon) =>
      ahead(shape, best.weights, { level: level + base, slope, seasons: turned }, Math.sqrt(variance), horizon),
  };
}

const rotated = (seasons: Float64Array, by: number): Float64Array =>
  Float64Array.from(seasons, (_, place) => seasons[(place + by) % seasons.length]);

function requireWeights({ weights }: SmoothModel, own: readonly WeightName[]): void {
  for (const name of WEIGHT_NAMES) {
    const value = weights[name];
    if (value === undefined) continue;
    if (!own.includes(name)) throw new ModelRefusal(`this model has no weight of ${name}`);
    if (!(name === 'damping' ? value > 0 : value >= 0) || value > 1)
      throw new ModelRefusal(`${name} ${value} is out of its range, ${name === 'damping' ? 'above 0' : '0'} to 1`);
  }
}

function requireRows(x: Float64Array, model: SmoothModel, count: number, parameters: number): void {
  const { season, isMultiplied, isOfLogs } = model;
  if (isMultiplied && isOfLogs) throw new ModelRefusal('an added season of logarithms is a multiplied one already');
  if (isMultiplied && season === undefined) throw new ModelRefusal('`multiplied` needs a season');
  if (isMultiplied && x.some((value) => value <= 0)) throw new ModelRefusal('a multiplied season needs values above 0');
  if (count < parameters + 2) throw new ModelRefusal(`this model needs ${parameters + 2} values, there are ${count}`);
  if (season === undefined) return;
  if (x.length < 2 * season)
    throw new ModelRefusal(`a season of ${season} needs ${2 * season} rows, there are ${x.length}`);
  const places = new Set<number>();
  for (let row = 0; row < x.length; row++) if (isFinite(x[row])) places.add(row % season);
  if (places.size < season) throw new ModelRefusal('a place of the season has no value');
}

/** Values and deviations of rows to come; `seasons` from the place of the next row on. */
function ahead(
  shape: Shape,
  weights: Weights,
  { level, slope, seasons }: { level: number; slope: number; seasons: Float64Array },
  s: number,
  horizon: number,
) {
  const { level: a, trend: b, season: g } = weights;
  const f = shape.trend === 'damped' ? weights.damping : 1;
  const hasTrend = shape.trend !== 'none';
  const period = seasons.length;
  const [value, deviation] = [new Float64Array(horizon), new Float64Array(horizon)];
  // D_j, the sum of the first j powers of the damping
  const damped = new Float64Array(horizon + 1);
  for (let j = 1, power = 1; j <= horizon; j++) damped[j] = hasTrend ? damped[j - 1] + (power *= f) : 0;
  const levelAt = (h: number) => level + damped[h] * slope;
  const seasonAt = (h: number) => (period > 0 ? seasons[(h - 1) % period] : shape.isMultiplied ? 1 : 0);
  const isSeason = (j: number) => period > 0 && j % period === 0;
  let squares = 1;
  for (let h = 1; h <= horizon; h++) {
    if (!shape.isMultiplied) {
      value[h - 1] = levelAt(h) + seasonAt(h);
      deviation[h - 1] = s * Math.sqrt(squares);
      squares += (a + a * b * damped[h] + (isSeason(h) ? g * (1 - a) : 0)) ** 2;
      continue;
    }
    const c = levelAt(h);
    if (!(c > 0)) {
      value.fill(NaN, h - 1);
      deviation.fill(NaN, h - 1);
      break;
    }
    const q = seasonAt(h);
    value[h - 1] = c * q;
    let sum = 1;
    for (let j = 1; j < h; j++) {
      const i = h - j;
      const own = (q * (a + a * b * damped[j])) / seasonAt(i);
      sum += (own + (isSeason(j) ? (g * (1 - a) * c) / levelAt(i) : 0)) ** 2;
    }
    deviation[h - 1] = s * Math.sqrt(sum);
  }
  return { value, deviation };
}
