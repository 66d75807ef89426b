import type { CrostonModel } from '../model.js';
import { ModelRefusal, type Fitted } from '../outlook.js';

/** Counts with zeros: the mean size of values above 0, over the mean gap between them. */
export interface FittedCroston extends Fitted {
  factor: number;
  size: number;
  gap: number;
  /** One-step forecasts; NaN up to the first value above 0. */
  fittedValues: Float64Array;
  /** One-step errors behind that. */
  residuals: Float64Array;
}

/** Factors that are tried first, a thousandth apart; the one found is so near. */
const GRID = 1000;
const CLOSE = 1e-9;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/**
 * @param x     counts that are all there
 * @param kept  a factor that an earlier fit has found
 * @throws {ModelRefusal} for a value below 0, fewer than two above 0, logarithms, or a factor out of its range
 * @see definitions, section 15; Croston 1972, Syntetos and Boylan 2005
 */
export function fitCroston(x: Float64Array, model: CrostonModel, kept?: number): FittedCroston {
  if (model.isOfLogs) throw new ModelRefusal('croston is of counts with zeros, which have no logarithm');
  if (x.some((value) => value < 0)) throw new ModelRefusal('croston needs values not below 0');
  const above = x.filter((value) => value > 0).length;
  if (above < 2) throw new ModelRefusal(`croston needs 2 values above 0, there ${above === 1 ? 'is' : 'are'} ${above}`);
  if (model.factor !== undefined && !(model.factor > 0 && model.factor <= 1))
    throw new ModelRefusal(`factor ${model.factor} is out of its range, above 0 to 1`);
  const of = (factor: number) => averaged(x, factor, model.isUncorrected);
  const factor = model.factor ?? kept ?? leastFactor((one) => of(one).squares);
  const { size, gap, forecast, fittedValues, residuals, squares } = of(factor);
  const deviation = Math.sqrt(squares / residuals.length);
  return {
    ...{ factor, size, gap, fittedValues, residuals },
    found: { factor },
    isPositive: true,
    ahead: (horizon) => ({
      value: new Float64Array(horizon).fill(forecast),
      deviation: new Float64Array(horizon).fill(deviation),
    }),
  };
}

function averaged(x: Float64Array, factor: number, isUncorrected: boolean) {
  const first = x.findIndex((value) => value > 0);
  const scale = isUncorrected ? 1 : 1 - factor / 2;
  const fittedValues = new Float64Array(x.length).fill(NaN);
  const residuals = new Float64Array(x.length - first - 1);
  let [size, gap, last, squares] = [x[first], first + 1, first, 0];
  for (let t = first + 1; t < x.length; t++) {
    fittedValues[t] = (scale * size) / gap;
    const error = (residuals[t - first - 1] = x[t] - fittedValues[t]);
    squares += error * error;
    if (!(x[t] > 0)) continue;
    size += factor * (x[t] - size);
    gap += factor * (t - last - gap);
    last = t;
  }
  return { size, gap, forecast: (scale * size) / gap, fittedValues, residuals, squares };
}

/** The factor of the least squares; of two alike the smaller. */
function leastFactor(of: (factor: number) => number): number {
  let least = 1;
  let squares = of(1 / GRID);
  for (let at = 2; at <= GRID; at++) {
    const own = of(at / GRID);
    if (own < squares) [least, squares] = [at, own];
  }
  let [low, high] = [Math.max(1, least - 1) / GRID, Math.min(GRID, least + 1) / GRID];
  while (high - low > CLOSE) {
    const [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    if (of(a) <= of(b)) high = b;
    else low = a;
  }
  const between = (low + high) / 2;
  return of(between) < squares ? between : least / GRID;
}
