import { sumOf } from '../numeric/deviations.js';
import { emaErrors, leastErrorFactor } from './emaSearch.js';
import { garch } from './garch.js';
import { ModelRefusal, requireValues, type Fitted, type Found, type Outlook } from './outlook.js';
import type { SimpleModel } from './model.js';

/**
 * Gives values to a simple model.
 * @param x     values that are all there, up to the origin
 * @param kept  what an earlier fit has found, which is not searched for anew
 * @param goOn  called during a search; it may throw to stop
 * @throws {ModelRefusal} for too few values, or values that it cannot take
 * @see definitions, section 11
 */
export function fitSimple(x: Float64Array, model: SimpleModel, kept: Found = {}, goOn?: () => void): Fitted {
  const n = x.length;
  switch (model.kind) {
    case 'last': {
      const { season } = model;
      requireValues('last', season ?? 1, n);
      const s = Math.sqrt(meanSquaredChange(x, season ?? 1));
      return season === undefined
        ? simple((h) => [x[n - 1], s * Math.sqrt(h)])
        : simple((h) => [x[n - season + ((h - 1) % season)], s * Math.sqrt(Math.floor((h - 1) / season) + 1)]);
    }
    case 'mean': {
      const rows = model.rows ?? n;
      requireValues('mean', Math.max(1, rows), n);
      const { mean, squares } = about(x.subarray(n - rows));
      const s = rows > 1 ? Math.sqrt(squares / (rows - 1)) : NaN;
      return simple(() => [mean, s * Math.sqrt(1 + 1 / rows)]);
    }
    case 'drift': {
      requireValues('drift', 2, n);
      return simple(driftOf(x));
    }
    case 'trend': {
      const rows = model.rows ?? n;
      requireValues('trend', Math.max(2, rows), n);
      return simple(lineOf(x.subarray(n - rows)));
    }
    case 'growth':
      return growth(x, model);
    case 'average':
      requireValues('average', model.rows, n);
      return average(x, model.rows);
    case 'garch': {
      const { w, a, b, persistence, halfLife, ahead } = garch(logReturns(x, model), kept.variance, goOn);
      return { ...banded(x[n - 1], ahead), found: { variance: { w, a, b } }, moving: { a, b, persistence, halfLife } };
    }
    case 'ewma':
      return banded(x[n - 1], levelVariance(logReturns(x, model), model.decay));
    case 'ema': {
      if (model.factor === undefined) requireValues('ema', 3, n);
      else requireValues('ema', 1, n);
      const factor = model.factor ?? kept.factor ?? leastErrorFactor(x);
      const { level, squares } = emaErrors(x, factor);
      const s = Math.sqrt(squares / (n - 1));
      return { ...simple((h) => [level, s * Math.sqrt(1 + (h - 1) * factor ** 2)]), found: { factor } };
    }
  }
}

/** A model that says each row ahead by itself. */
const simple = (at: (h: number) => readonly [value: number, deviation: number]): Fitted => ({
  ahead: (horizon) => {
    const outlook: Outlook = { value: new Float64Array(horizon), deviation: new Float64Array(horizon) };
    for (let h = 1; h <= horizon; h++) [outlook.value[h - 1], outlook.deviation[h - 1]] = at(h);
    return outlook;
  },
  found: {},
});

/** Mean of squared changes over so many rows; NaN of none. */
function meanSquaredChange(x: Float64Array, rows: number): number {
  let sum = 0;
  for (let t = rows; t < x.length; t++) sum += (x[t] - x[t - rows]) ** 2;
  return sum / (x.length - rows);
}

/** Mean, and sum of squares about it; about the first value before, so that numbers around 1e9 keep their digits. */
function about(x: Float64Array): { mean: number; squares: number } {
  const [n, base] = [x.length, x[0]];
  let sum = 0;
  for (let t = 0; t < n; t++) sum += x[t] - base;
  const mean = sum / n;
  let squares = 0;
  for (let t = 0; t < n; t++) squares += (x[t] - base - mean) ** 2;
  return { mean: base + mean, squares };
}

function driftOf(x: Float64Array): (h: number) => [number, number] {
  const n = x.length;
  const b = (x[n - 1] - x[0]) / (n - 1);
  let squares = 0;
  for (let t = 1; t < n; t++) squares += (x[t] - x[t - 1] - b) ** 2;
  const s = n > 2 ? Math.sqrt(squares / (n - 2)) : NaN;
  return (h) => [x[n - 1] + h * b, s * Math.sqrt(h * (1 + h / (n - 1)))];
}

function lineOf(x: Float64Array): (h: number) => [number, number] {
  const n = x.length;
  const middle = (n - 1) / 2;
  const { mean } = about(x);
  const spread = (n * (n * n - 1)) / 12;
  let along = 0;
  for (let t = 0; t < n; t++) along += (t - middle) * (x[t] - mean);
  const slope = along / spread;
  let left = 0;
  for (let t = 0; t < n; t++) left += (x[t] - mean - slope * (t - middle)) ** 2;
  const s = n > 2 ? Math.sqrt(left / (n - 2)) : NaN;
  return (h) => {
    const away = n - 1 + h - middle;
    return [mean + slope * away, s * Math.sqrt(1 + 1 / n + away ** 2 / spread)];
  };
}

function growth(x: Float64Array, model: { rows?: number; isOfLogs: boolean }): Fitted {
  if (model.isOfLogs) throw new ModelRefusal('growth is of logs already');
  const n = x.length;
  const rows = model.rows ?? Math.max(1, n - 1);
  requireValues('growth', rows + 1, n);
  const own = x.subarray(n - 1 - rows);
  if (own.some((value) => !(value > 0))) throw new ModelRefusal('logarithm of a value not above 0');
  const factor = (own[rows] / own[0]) ** (1 / rows);
  const drift = driftOf(own.map(Math.log));
  return { ...simple((h) => [own[rows] * factor ** h, drift(h)[1]]), hasLogDeviations: true };
}

/** The last value in a band: the variance of its logarithm is the sum of those of the rows so far. */
const banded = (last: number, variances: (horizon: number) => Float64Array): Fitted => ({
  ahead: (horizon) => {
    let sum = 0;
    const deviation = variances(horizon).map((variance) => Math.sqrt((sum += variance)));
    return { value: new Float64Array(horizon).fill(last), deviation };
  },
  found: {},
  hasLogDeviations: true,
});

function logReturns(x: Float64Array, { kind, isOfLogs }: { kind: string; isOfLogs: boolean }): Float64Array {
  if (isOfLogs) throw new ModelRefusal(`${kind} is of logs already`);
  requireValues(kind, 3, x.length);
  if (x.some((value) => !(value > 0))) throw new ModelRefusal('logarithm of a value not above 0');
  return Float64Array.from({ length: x.length - 1 }, (_, row) => Math.log(x[row + 1] / x[row]));
}

/** The variance as an exponential average of squared returns, from the first of them on; the same for each row ahead. */
function levelVariance(returns: Float64Array, decay: number): (horizon: number) => Float64Array {
  let variance = returns[0] ** 2;
  for (let row = 1; row < returns.length; row++) variance = decay * variance + (1 - decay) * returns[row] ** 2;
  return (horizon) => new Float64Array(horizon).fill(variance);
}

function average(x: Float64Array, rows: number): Fitted {
  const n = x.length;
  // about the first value, so that numbers around 1e9 keep their digits
  let [errors, sum] = [0, 0];
  for (let t = 0; t < n; t++) {
    const value = x[t] - x[0];
    if (t >= rows) {
      errors += (value - sum / rows) ** 2;
      sum -= x[t - rows] - x[0];
    }
    sum += value;
  }
  const s = n > rows ? Math.sqrt(errors / (n - rows)) : NaN;
  return {
    ahead: (horizon) => {
      const base = x[n - 1];
      const window = Array.from(x.subarray(n - rows), (value) => value - base);
      const value = new Float64Array(horizon);
      const psi = new Float64Array(horizon);
      const deviation = new Float64Array(horizon);
      let squares = 0;
      for (let h = 0; h < horizon; h++) {
        const mean = window.slice(h, h + rows).reduce((total, one) => total + one, 0) / rows;
        window.push(mean);
        value[h] = base + mean;
        psi[h] = h === 0 ? 1 : sumOf(psi.subarray(Math.max(0, h - rows), h)) / rows;
        squares += psi[h] ** 2;
        deviation[h] = s * Math.sqrt(squares);
      }
      return { value, deviation };
    },
    found: {},
  };
}
