import type { Polynomial } from './polynomials.js';

/** What the filter has made of a series w of N values. */
interface Filtered {
  /** The mean of w: given, or that of the greatest likelihood. */
  u: number;
  /** Sum of e^2 / v, and of ln v. */
  squares: number;
  logs: number;
  /** Errors over the roots of their variances, where they were asked for. */
  residuals: Float64Array;
  /** Where w - u stands one row ahead, as the filter's state. */
  state: Float64Array;
}

/** Variances that lie no farther from where they settle are taken as settled. */
const SETTLED = 1e-14;

/**
 * Runs the Kalman filter over w from its stationary state (Gardner, Harvey and Phillips 1980); shocks have the variance 1.
 * @param phi    1 - phi1 B - ..., seasons multiplied out
 * @param theta  1 + theta1 B + ...
 * @param settled  variances together no farther from where they settle are taken as settled; more is quicker and coarser
 * @param mean   `search`: the mean of the greatest likelihood is found on the way (generalised least squares)
 */
export function filtered(
  w: Float64Array,
  phi: Polynomial,
  theta: Polynomial,
  mean: number | 'search',
  { wantsResiduals = false, settled = SETTLED }: { wantsResiduals?: boolean; settled?: number } = {},
): Filtered {
  const searches = mean === 'search';
  const { errors, ones, variances, logs } = run(w, phi, theta, searches ? 0 : mean, { withOnes: searches, settled });
  let u = searches ? 0 : mean;
  if (searches) {
    let [along, across] = [0, 0];
    for (let t = 0; t < w.length; t++) {
      along += (errors[t] * ones[t]) / variances[t];
      across += (ones[t] * ones[t]) / variances[t];
    }
    u = along / across;
  }
  let squares = 0;
  const residuals = wantsResiduals ? new Float64Array(w.length) : errors;
  for (let t = 0; t < w.length; t++) {
    const error = searches ? errors[t] - u * ones[t] : errors[t];
    squares += (error * error) / variances[t];
    if (wantsResiduals) residuals[t] = error / Math.sqrt(variances[t]);
  }
  return {
    u,
    squares,
    logs,
    residuals,
    state: wantsResiduals ? run(w, phi, theta, u, { withOnes: false, settled }).state : errors,
  };
}

interface RunChoices {
  /** Whether a column of ones is filtered too, from which the mean is told. */
  withOnes: boolean;
  settled: number;
}

function run(w: Float64Array, phi: Polynomial, theta: Polynomial, mean: number, { withOnes, settled }: RunChoices) {
  const n = w.length;
  const r = Math.max(phi.length - 1, theta.length);
  const back = Float64Array.from({ length: r }, (_, i) => -(phi[i + 1] ?? 0));
  const shock = Float64Array.from({ length: r }, (_, i) => theta[i] ?? 0);
  const P = stationaryVariance(back, shock);
  const first = new Float64Array(r);
  const gain = new Float64Array(r);
  const [state, one] = [new Float64Array(r), new Float64Array(r)];
  const [errors, ones, variances] = [new Float64Array(n), new Float64Array(withOnes ? n : 0), new Float64Array(n)];
  let logs = 0;
  let isSettled = false;
  gain.set(shock);
  for (let t = 0; t < n; t++) {
    const v = isSettled ? 1 : P[0];
    variances[t] = v;
    if (!isSettled) {
      logs += Math.log(v);
      for (let i = 0; i < r; i++) gain[i] = P[i * r] / v;
    }
    errors[t] = forward(state, w[t] - mean, gain, back);
    if (withOnes) ones[t] = forward(one, 1, gain, back);
    if (isSettled) continue;
    // what is seen is known, and the state moves on: P = T P T' + R R', of which T only shifts
    // only the half below the diagonal is kept; rows are overwritten once what they need of the row below has been read
    let beyond = 0;
    for (let i = 0; i < r; i++) first[i] = P[i * r];
    for (let i = 0; i < r - 1; i++) {
      const [row, below, share] = [i * r, (i + 1) * r + 1, first[i + 1] / v];
      for (let j = 0; j <= i; j++) P[row + j] = P[below + j] - share * first[j + 1] + shock[i] * shock[j];
      beyond += P[row + i] - shock[i] * shock[i];
    }
    for (let j = 0; j < r; j++) P[(r - 1) * r + j] = shock[r - 1] * shock[j];
    if (beyond < settled) {
      isSettled = true;
      gain.set(shock);
    }
  }
  return { errors, ones, variances, logs, state };
}

/** Takes in a value and moves the state a row on. @returns the error of what was expected */
function forward(state: Float64Array, value: number, gain: Float64Array, back: Float64Array): number {
  const error = value - state[0];
  const last = state.length - 1;
  for (let i = 0; i < last; i++) state[i] = back[i] * value + state[i + 1] + gain[i + 1] * error;
  state[last] = back[last] * value;
  return error;
}

/**
 * The variance P of the stationary state: P = T P T' + R R', by doubling (Smith 1968).
 * T has `back` in its first column and ones above its diagonal.
 */
function stationaryVariance(back: Float64Array, shock: Float64Array): Float64Array {
  const r = back.length;
  const P: Float64Array = new Float64Array(r * r);
  for (let i = 0; i < r; i++) for (let j = 0; j < r; j++) P[i * r + j] = shock[i] * shock[j];
  let A: Float64Array = new Float64Array(r * r);
  for (let i = 0; i < r; i++) {
    A[i * r] = back[i];
    if (i + 1 < r) A[i * r + i + 1] = 1;
  }
  const MOST_DOUBLINGS = 60;
  for (let doubling = 0; doubling < MOST_DOUBLINGS; doubling++) {
    const added = times(times(A, P, r), turned(A, r), r);
    let [most, grown] = [0, 0];
    for (let i = 0; i < P.length; i++) {
      most = Math.max(most, Math.abs(P[i]));
      grown = Math.max(grown, Math.abs(added[i]));
      P[i] += added[i];
    }
    if (!(grown > 1e-17 * most)) break;
    A = times(A, A, r);
  }
  return P;
}

function times(a: Float64Array, b: Float64Array, r: number): Float64Array {
  const out = new Float64Array(r * r);
  for (let i = 0; i < r; i++)
    for (let k = 0; k < r; k++) {
      const one = a[i * r + k];
      if (one === 0) continue;
      for (let j = 0; j < r; j++) out[i * r + j] += one * b[k * r + j];
    }
  return out;
}

const turned = (a: Float64Array, r: number): Float64Array => a.map((_, at) => a[(at % r) * r + Math.floor(at / r)]);
