import { autocorrelation } from '../../memory/autocorrelation.js';
import { curvatureErrors, minimise } from '../../numeric/minimise.js';
import { deviationsOf, squaresOf } from '../../numeric/deviations.js';
import type { ArimaModel } from '../model.js';
import { ModelRefusal, type Coefficients, type Fitted } from '../outlook.js';
import { filtered } from './filter.js';
import {
  differenced,
  differencing,
  fromPartials,
  ofLags,
  partialsOf,
  product,
  shockWeights,
  type Polynomial,
} from './polynomials.js';

/** A model with values, its likelihood, and what is left of them. */
export interface FittedArima extends Fitted {
  coefficients: Coefficients;
  /** Standard errors of ar, ma, sar, sma and u, of those that were fitted; NaN where they cannot be told. */
  errors: number[];
  /** Values after differencing, and numbers that were fitted, the variance among them. */
  count: number;
  parameters: number;
  logLikelihood: number;
  variance: number;
  aic: number;
  aicc: number;
  bic: number;
  /** One-step errors over their deviations. */
  residuals: Float64Array;
}

/** So many values tell which start is the better one. */
const ROUGH_VALUES = 300;

/** In a quick search variances are taken as settled once they are so near. */
const NEAR_SETTLED = 1e-3;

/** What differs by no more of the greatest value is rounding. */
const NOTHING_LEFT = 1e-12;

interface Course {
  /** Called for each likelihood, which of very many values takes long; it may throw to stop. */
  goOn?: () => void;
  /** Standard errors take many likelihoods, and are left out where nobody looks at them. */
  wantsErrors?: boolean;
  /** Near enough for its criteria to be compared. */
  isQuick?: boolean;
}

/**
 * Gives values to an arima by the exact Gaussian likelihood, or takes coefficients that are given.
 * @param x      values that are all there, up to the origin
 * @param given  coefficients that are not searched for
 * @throws {ModelRefusal} for too few values, none left to explain, or coefficients outside the stationary and invertible region
 * @see definitions, section 11
 */
export function fitArima(
  x: Float64Array,
  model: ArimaModel,
  given?: Coefficients,
  { goOn = () => undefined, wantsErrors = false, isQuick = false }: Course = {},
): FittedArima {
  const { d, seasonal } = model;
  const by = differencing(d, seasonal?.d ?? 0, seasonal?.rows ?? 1);
  const hasMean = model.hasConstant && d + (seasonal?.d ?? 0) <= 1;
  // about the last value, so that numbers around 1e9 keep their digits
  const base = x[x.length - 1];
  const w = differenced(
    x.map((value) => value - base),
    by,
  );
  const lifted = by.length === 1 ? base : 0;
  const shape = shapeOf(model);
  const parameters = shape.count + (hasMean ? 1 : 0) + 1;
  if (w.length === 0) throw new ModelRefusal('no values left after differencing');
  if (!given) requireValuesLeft(parameters + 2, w.length);
  const most = x.reduce((greatest, value) => Math.max(greatest, Math.abs(value)), 0);
  const level = hasMean ? w[0] : -lifted;
  if (w.every((value) => Math.abs(value - level) <= NOTHING_LEFT * most))
    throw new ModelRefusal('nothing left to explain after differencing');
  if (given) requireRegion(given);
  const n = w.length;
  const polynomials = (c: Coefficients) => polynomialsOf(c, seasonal?.rows ?? 1);
  const likelihood = (c: Coefficients, u: number | 'search', values = w) => {
    goOn();
    const { phi, theta } = polynomials(c);
    const found = filtered(values, phi, theta, u, { settled: isQuick ? NEAR_SETTLED : undefined });
    const { length } = values;
    return { u: found.u, cost: (length / 2) * Math.log(found.squares / length) + found.logs / 2 };
  };
  const last = w.subarray(-ROUGH_VALUES);
  const fixedMean = hasMean ? 'search' : -lifted;
  const coefficients = given
    ? { ...given, u: hasMean ? given.u - lifted : -lifted }
    : searched(
        w,
        shape,
        (c) => likelihood(c, fixedMean),
        (c) => likelihood(c, fixedMean, last),
        isQuick,
      );
  const { phi, theta } = polynomials(coefficients);
  const { squares, logs, residuals, state } = filtered(w, phi, theta, coefficients.u, { wantsResiduals: true });
  const variance = squares / n;
  const logLikelihood = (-n / 2) * (Math.log(2 * Math.PI * variance) + 1) - logs / 2;
  const aic = -2 * logLikelihood + 2 * parameters;
  const left = n - parameters - 1;
  const told = { ...coefficients, u: hasMean ? coefficients.u + lifted : 0 };
  return {
    coefficients: told,
    errors:
      wantsErrors && !given
        ? errorsOf(coefficients, shape, hasMean, w, (c, u) => likelihood(c, u).cost)
        : new Array<number>(shape.count + (hasMean ? 1 : 0)).fill(NaN),
    count: n,
    parameters,
    logLikelihood,
    variance,
    aic,
    aicc: left > 0 ? aic + (2 * parameters * (parameters + 1)) / left : NaN,
    bic: -2 * logLikelihood + parameters * Math.log(n),
    residuals,
    found: { coefficients: told },
    ahead: (horizon) => {
      const own = aheadOf(state, phi, horizon).map((value) => value + coefficients.u);
      const psi = shockWeights(product(phi, by), theta, horizon);
      let sum = 0;
      const deviation = psi.map((weight) => Math.sqrt(variance * (sum += weight * weight)));
      return { value: undone(own, x, base, by), deviation };
    },
  };
}

function requireValuesLeft(needs: number, has: number): void {
  if (has < needs) throw new ModelRefusal(`arima needs ${needs} values after differencing, there are ${has}`);
}

/** How many coefficients there are of each kind; `lags` of the first kind where only some are. */
interface Shape {
  kinds: readonly [ar: number, ma: number, sar: number, sma: number];
  lags: readonly number[] | undefined;
  p: number;
  count: number;
}

function shapeOf({ p, q, seasonal, lags }: ArimaModel): Shape {
  const kinds = [lags ? lags.length : p, q, seasonal?.p ?? 0, seasonal?.q ?? 0] as const;
  return { kinds, lags, p, count: kinds.reduce((sum, one) => sum + one, 0) };
}

const polynomialsOf = ({ ar, ma, sar, sma }: Coefficients, rows: number): { phi: Polynomial; theta: Polynomial } => ({
  phi: product(ofLags(ar, -1), ofLags(sar, -1, rows)),
  theta: product(ofLags(ma, 1), ofLags(sma, 1, rows)),
});

function requireRegion(given: Coefficients): void {
  for (const [name, phi] of [
    ['ar', given.ar],
    ['ma', given.ma.map((one) => -one)],
    ['sar', given.sar],
    ['sma', given.sma.map((one) => -one)],
  ] as const)
    if (!partialsOf(phi)) throw new ModelRefusal(`coefficients outside the region: ${name}`);
}

/** Coefficients from numbers without bounds: partial autocorrelations as hyperbolic tangents, gapped lags as they are. */
function coefficientsAt(at: readonly number[], { kinds, lags, p }: Shape): Coefficients | undefined {
  const parts: number[][] = [];
  let from = 0;
  for (const count of kinds) {
    parts.push(at.slice(from, from + count));
    from += count;
  }
  const [ar, ma, sar, sma] = parts.map((part) => fromPartials(part.map(Math.tanh)));
  const negative = (part: readonly number[]) => part.map((one) => -one);
  const own = lags ? spread(parts[0], lags, p) : ar;
  if (lags && !partialsOf(own)) return undefined;
  return { ar: own, ma: negative(ma), sar, sma: negative(sma), u: 0 };
}

function spread(values: readonly number[], lags: readonly number[], p: number): number[] {
  const out = new Array<number>(p).fill(0);
  lags.forEach((lag, at) => (out[lag - 1] = values[at]));
  return out;
}

type Likelihood = (c: Coefficients) => { u: number; cost: number };

/**
 * The coefficients of the greatest likelihood, from the best of some starts on.
 * @param rough  the likelihood of the last of the values, by which starts are told apart
 */
function searched(
  w: Float64Array,
  shape: Shape,
  likelihood: Likelihood,
  rough: Likelihood,
  isQuick: boolean,
): Coefficients {
  const costBy = (by: Likelihood) => (at: readonly number[]) => {
    const c = coefficientsAt(at, shape);
    return c ? by(c).cost : Infinity;
  };
  const [cost, roughCost] = [costBy(likelihood), costBy(rough)];
  const tried = (some: readonly number[][], by: typeof cost) =>
    some
      .map((at) => ({ at, cost: by(at) }))
      .filter((start) => Number.isFinite(start.cost))
      .sort((a, b) => a.cost - b.cost);
  const starts = apart(tried(startsOf(w, shape), roughCost)).slice(0, isQuick ? 1 : undefined);
  if (!isQuick) starts.push(...tried(cancellingStarts(shape), roughCost));
  // of many values the last few lead near the top, from where all of them are asked
  const near =
    w.length > ROUGH_VALUES
      ? apart(
          tried(
            starts.map(({ at }) => minimise(roughCost, at, true).x),
            cost,
          ),
        ).slice(0, 2)
      : starts;
  if (near.length === 0) throw new ModelRefusal('its likelihood cannot be computed for these values');
  const found = near.map(({ at }) => minimise(cost, at, isQuick)).reduce((a, b) => (b.value < a.value ? b : a));
  const c = coefficientsAt(found.x, shape)!;
  return { ...c, u: likelihood(c).u };
}

/** The best of some starts that do not lie close to each other: a likelihood may have several tops. */
function apart(starts: readonly { at: number[]; cost: number }[]): { at: number[]; cost: number }[] {
  const MOST = 3;
  const chosen: { at: number[]; cost: number }[] = [];
  for (const start of starts) {
    const isFar = chosen.every(({ at }) => at.some((one, i) => Math.abs(one - start.at[i]) > 0.8));
    if (isFar) chosen.push(start);
    if (chosen.length === MOST) break;
  }
  return chosen;
}

/**
 * Where roots of values and shocks nearly cancel at the circle: of few coefficients a likelihood may have its top there, and
 * no other start leads to it.
 */
function cancellingStarts({ kinds: [ar, ma], lags, count }: Shape): number[][] {
  const MOST = 3;
  if (ar === 0 || ma === 0 || lags || count > MOST) return [];
  return [3, -3].map((root) => Array.from({ length: count }, (_, at) => (at === 0 || at === ar ? root : 0)));
}

/** Where a search may begin: nothing, each kind up or down, and partial autocorrelations of the values themselves. */
function startsOf(w: Float64Array, shape: Shape): number[][] {
  const { kinds, lags, count } = shape;
  const zeros = new Array<number>(count).fill(0);
  if (count === 0) return [zeros];
  const starts = [zeros];
  const levels = count <= 3 ? [0, 0.5, -0.5, 1.3, -1.3] : [0, 0.5, -0.5];
  const MOST_GRID = 4;
  if (count <= MOST_GRID)
    for (let code = 0; code < levels.length ** count; code++)
      starts.push(zeros.map((_, at) => levels[Math.floor(code / levels.length ** at) % levels.length]));
  else
    for (let at = 0; at < count; at++)
      for (const by of [-0.5, 0.5]) starts.push(zeros.map((_, i) => (i === at ? by : 0)));
  const own = kinds[0];
  if (own > 0 && !lags && w.length > own + 1) {
    const { pacf } = autocorrelation(w, own);
    const partials = Array.from(pacf.subarray(1), (r) => Math.atanh(Math.max(-0.97, Math.min(0.97, r || 0))));
    starts.push(zeros.map((_, at) => partials[at] ?? 0));
  }
  return starts;
}

function errorsOf(
  { ar, ma, sar, sma, u }: Coefficients,
  { lags, p }: Shape,
  hasMean: boolean,
  w: Float64Array,
  cost: (c: Coefficients, u: number) => number,
): number[] {
  const own = lags ? lags.map((lag) => ar[lag - 1]) : ar;
  const parts = [own, ma, sar, sma];
  const at = [...parts.flat(), ...(hasMean ? [u] : [])];
  const size = Math.sqrt(squaresOf(deviationsOf(w)) / w.length);
  const of = (values: readonly number[]) => {
    let from = 0;
    const take = (count: number) => values.slice(from, (from += count));
    const [a, b, c, e] = parts.map((part) => take(part.length));
    const whole = { ar: lags ? spread(a, lags, p) : a, ma: b, sar: c, sma: e, u: 0 };
    return cost(whole, hasMean ? values[values.length - 1] : u);
  };
  const steps = at.map((_, i) => (hasMean && i === at.length - 1 ? 1e-2 * size : 1e-3));
  return curvatureErrors(of, at, steps);
}

/** What the state expects of so many rows ahead. */
function aheadOf(state: Float64Array, phi: Polynomial, horizon: number): Float64Array {
  const now = Float64Array.from(state);
  return Float64Array.from({ length: horizon }, () => {
    const value = now[0];
    for (let i = 0; i < now.length; i++) now[i] = -(phi[i + 1] ?? 0) * value + (now[i + 1] ?? 0);
    return value;
  });
}

/** Values of the column from those of its differences. */
function undone(w: Float64Array, x: Float64Array, base: number, by: Polynomial): Float64Array {
  const lost = by.length - 1;
  const values = Array.from(x.subarray(x.length - lost), (value) => value - base);
  for (const value of w)
    values.push(value - by.reduce((sum, c, back) => (back === 0 ? sum : sum + c * values[values.length - back]), 0));
  return Float64Array.from(values.slice(lost), (value) => value + base);
}
