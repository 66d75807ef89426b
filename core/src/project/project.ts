import { requireWhole } from '../arguments.js';
import { normalQuantile } from '../numeric/tails.js';
import { validOf } from '../numeric/deviations.js';
import { fitArima } from './arima/arima.js';
import { chooseArima } from './arima/chooseArima.js';
import type { Model } from './model.js';
import { ModelRefusal, type Fitted, type Found } from './outlook.js';
import { fitSimple } from './simpleModels.js';
import { chooseSmoothing } from './smoothing/chooseSmoothing.js';
import { fitCroston } from './smoothing/croston.js';
import { fitSmoothing } from './smoothing/fitSmoothing.js';
import { isFinite } from '../windows/anchoredSums.js';

/** Values of rows to come, deviations, and ends that 80 and 95 of 100 lie between. */
export interface Projection {
  value: Float64Array;
  /** Of the logarithm for `of log` and `growth`. NaN where it lacks a divisor, and the ends then too. */
  deviation: Float64Array;
  low80: Float64Array;
  high80: Float64Array;
  low95: Float64Array;
  high95: Float64Array;
}

const Z80 = normalQuantile(0.9);
const Z95 = normalQuantile(0.975);

/**
 * Gives values to a model.
 * @param x     values up to the origin, as `seenBy` has them for the model
 * @param kept  what an earlier fit has found, and is not searched for anew
 * @param goOn  called during a search; it may throw to stop
 * @throws {ModelRefusal} where it cannot have these values
 */
export function fitModel(x: Float64Array, model: Model, kept: Found = {}, goOn?: () => void): Fitted {
  return {
    ...fitKind(x, model, kept, goOn),
    isPositive: model.kind === 'croston' || (!keepsRows(model) && x.every((value) => value > 0)),
  };
}

function fitKind(x: Float64Array, model: Model, kept: Found, goOn?: () => void): Fitted {
  const own = model.isOfLogs && model.kind !== 'growth' && model.kind !== 'croston' ? logarithms(x) : x;
  switch (model.kind) {
    case 'arima':
      return fitArima(own, model, kept.coefficients, { goOn });
    case 'chosen': {
      const chosen = kept.chosen ?? chooseArima(own, { ...model, goOn }).model;
      const fitted = fitArima(own, chosen, kept.coefficients, { goOn });
      return { ...fitted, found: { ...fitted.found, chosen } };
    }
    case 'smooth':
      return fitSmoothing(own, model, kept.smoothing, goOn);
    case 'chosen smooth': {
      if (kept.chosenSmooth) {
        const fitted = fitSmoothing(own, kept.chosenSmooth, kept.smoothing, goOn);
        return { ...fitted, found: { ...fitted.found, chosenSmooth: kept.chosenSmooth } };
      }
      const { fitted } = chooseSmoothing(own, model, goOn);
      return { ...fitted, found: { ...fitted.found, chosenSmooth: fitted.model } };
    }
    case 'croston':
      return fitCroston(own, model, kept.factor);
    default:
      return fitSimple(own, model, kept, goOn);
  }
}

function logarithms(x: Float64Array): Float64Array {
  if (x.some((value) => value <= 0)) throw new ModelRefusal('logarithm of a value not above 0');
  return x.map(Math.log);
}

/** Forecasts a number of rows with a fitted model. Intervals of a series that was always above 0 end at 0. */
export function projectionOf(fitted: Fitted, model: Model, horizon: number): Projection {
  const { value, deviation } = fitted.ahead(horizon);
  const ends = (z: number) =>
    value.map((one, h) => {
      if (model.isOfLogs) return Math.exp(one + z * deviation[h]);
      const end = fitted.hasLogDeviations ? one * Math.exp(z * deviation[h]) : one + z * deviation[h];
      return fitted.isPositive && end < 0 ? 0 : end;
    });
  const floor = model.floor ?? -Infinity;
  const raised = (column: Float64Array) =>
    floor > -Infinity ? column.map((one) => (one < floor ? floor : one)) : column;
  return {
    value: raised(model.isOfLogs ? value.map(Math.exp) : value),
    deviation,
    low80: raised(ends(-Z80)),
    high80: raised(ends(Z80)),
    low95: raised(ends(-Z95)),
    high95: raised(ends(Z95)),
  };
}

/** Whether missing rows stay rows of a model, so that a season keeps its place. */
export const keepsRows = ({ kind }: Model): boolean => kind === 'smooth' || kind === 'chosen smooth';

/** The values that a model is given: from the first to the last, without gaps where its rows are values alone. */
export function seenBy(model: Model, x: Float64Array): Float64Array {
  if (!keepsRows(model)) return validOf(x);
  const first = x.findIndex(isFinite);
  return first < 0 ? new Float64Array(0) : x.subarray(first, x.findLastIndex(isFinite) + 1);
}

/**
 * Projects a column over so many rows.
 * @param x  values of any unit, up to the origin; missing ones are left out first, but for exponential smoothing
 * @throws {ModelRefusal} where the model cannot have these values
 * @throws {ArgumentError} for a horizon that is no whole number from 1
 * @see definitions, section 11
 */
export function project(x: Float64Array, model: Model, horizon: number): Projection {
  requireWhole('horizon', horizon, { min: 1, max: 10_000 });
  return projectionOf(fitModel(seenBy(model, x), model), model, horizon);
}

/**
 * Returns a projection of the next values: of a model that keeps missing rows at the rows of the values that came, as far as
 * they are known, and at each row behind them.
 * @param rows    of all values, rising
 * @param origin  the place among them of the last that the model was fitted to
 */
export function projectionAtValues(
  fitted: Fitted,
  model: Model,
  rows: ArrayLike<number>,
  origin: number,
  horizon: number,
): Projection {
  if (!keepsRows(model)) return projectionOf(fitted, model, horizon);
  let distance = 0;
  const distances = Array.from({ length: horizon }, (_, at) => {
    const next = origin + at + 1;
    return (distance = next < rows.length ? rows[next] - rows[origin] : distance + 1);
  });
  const whole = projectionOf(fitted, model, distance);
  const at = (column: Float64Array) => Float64Array.from(distances, (ahead) => column[ahead - 1]);
  return {
    value: at(whole.value),
    deviation: at(whole.deviation),
    low80: at(whole.low80),
    high80: at(whole.high80),
    low95: at(whole.low95),
    high95: at(whole.high95),
  };
}
