import { requireWhole } from '../arguments.js';
import { normalQuantile } from '../numeric/tails.js';
import { validOf } from '../numeric/deviations.js';
import { fitArima } from './arima/arima.js';
import { chooseArima } from './arima/chooseArima.js';
import type { Model } from './model.js';
import { ModelRefusal, type Fitted, type Found } from './outlook.js';
import { fitSimple } from './simpleModels.js';

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
 * @param x     values that are all there, up to the origin
 * @param kept  what an earlier fit has found, and is not searched for anew
 * @param goOn  called during a search; it may throw to stop
 * @throws {ModelRefusal} where it cannot have these values
 */
export function fitModel(x: Float64Array, model: Model, kept: Found = {}, goOn?: () => void): Fitted {
  return { ...fitKind(x, model, kept, goOn), isPositive: x.every((value) => value > 0) };
}

function fitKind(x: Float64Array, model: Model, kept: Found, goOn?: () => void): Fitted {
  const own = model.isOfLogs && model.kind !== 'growth' ? logarithms(x) : x;
  switch (model.kind) {
    case 'arima':
      return fitArima(own, model, kept.coefficients, { goOn });
    case 'chosen': {
      const chosen = kept.chosen ?? chooseArima(own, { ...model, goOn }).model;
      const fitted = fitArima(own, chosen, kept.coefficients, { goOn });
      return { ...fitted, found: { ...fitted.found, chosen } };
    }
    default:
      return fitSimple(own, model, kept, goOn);
  }
}

function logarithms(x: Float64Array): Float64Array {
  if (x.some((value) => !(value > 0))) throw new ModelRefusal('logarithm of a value not above 0');
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
  return {
    value: model.isOfLogs ? value.map(Math.exp) : value,
    deviation,
    low80: ends(-Z80),
    high80: ends(Z80),
    low95: ends(-Z95),
    high95: ends(Z95),
  };
}

/**
 * Projects a column over so many rows.
 * @param x  values of any unit, up to the origin; missing ones are left out first
 * @throws {ModelRefusal} where the model cannot have these values
 * @throws {ArgumentError} for a horizon that is no whole number from 1
 * @see definitions, section 11
 */
export function project(x: Float64Array, model: Model, horizon: number): Projection {
  requireWhole('horizon', horizon, { min: 1, max: 10_000 });
  return projectionOf(fitModel(validOf(x), model), model, horizon);
}
