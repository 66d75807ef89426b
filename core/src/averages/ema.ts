import { ArgumentError, requireWhole } from '../arguments.js';

export type EmaStart = 'first' | 'mean' | 'weighted';

interface EmaOptions {
  /** Weight of the newest value, above 0 and at most 1. */
  factor: number;
  /** First valid value that is shown, counted from 1. */
  from: number;
  /** What the average starts from: the first value, the mean of the first `seed` values, or weights summed so far. */
  start: EmaStart;
  /** Values that `start: mean` takes the mean of. */
  seed: number;
}

/** The factor of an average over N bars, 2 / (N + 1). */
export const factorOfBars = (bars: number): number => 2 / (bars + 1);

/** The factor at which the weight of a value halves in `bars` bars. */
export const factorOfHalfLife = (bars: number): number => -Math.expm1(-Math.LN2 / bars);

/**
 * Exponential average by rows. A missing value carries the average on, decays nothing, and is NaN at its own row.
 * @returns n averages in the unit of x
 * @throws {ArgumentError} for a factor outside (0, 1]
 * @see definitions, section 6
 */
export function ema(x: Float64Array, { factor, from, start, seed }: EmaOptions): Float64Array {
  if (!(factor > 0 && factor <= 1)) throw new ArgumentError('factor', 'above 0 and at most 1', factor);
  requireWhole('from', from, { min: 1 });
  const out = new Float64Array(x.length);
  if (start === 'weighted') return weighted(x, factor, from, out.fill(NaN));
  const seedCount = start === 'mean' ? seed : 1;
  const shownFrom = Math.max(from, seedCount);
  let average = 0;
  let valid = 0;
  let t = 0;
  // up to the seed a running mean, and nothing is shown before `from`
  for (; t < x.length && valid < shownFrom; t++) {
    const value = x[t];
    out[t] = NaN;
    if (value - value !== 0) continue;
    valid++;
    average += (valid <= seedCount ? 1 / valid : factor) * (value - average);
    if (valid >= shownFrom) out[t] = average;
  }
  // y + a (x - y) is a x + (1 - a) y with one rounding less
  for (; t < x.length; t++) {
    const value = x[t];
    if (value - value === 0) out[t] = average += factor * (value - average);
    else out[t] = NaN;
  }
  return out;
}

/**
 * The last rows of an average by rows, which goes on from its own value.
 * @param x       values from the first new row on
 * @param before  the average on all rows before
 * @returns       undefined where it has no value yet
 */
export function emaFrom(x: Float64Array, factor: number, before: Float64Array): Float64Array<ArrayBuffer> | undefined {
  let row = before.length - 1;
  while (row >= 0 && Number.isNaN(before[row])) row--;
  if (row < 0) return undefined;
  let average = before[row];
  return Float64Array.from(x, (value) => (value - value === 0 ? (average += factor * (value - average)) : NaN));
}

function weighted(x: Float64Array, factor: number, from: number, out: Float64Array): Float64Array {
  let sum = 0;
  let weights = 0;
  let valid = 0;
  for (let t = 0; t < x.length; t++) {
    const value = x[t];
    if (value - value !== 0) continue;
    sum = value + (1 - factor) * sum;
    weights = 1 + (1 - factor) * weights;
    if (++valid >= from) out[t] = sum / weights;
  }
  return out;
}

/**
 * Exponential average whose weights halve with every `halfLife` of elapsed time since the last valid row.
 * @param halfLife  microseconds, above 0
 */
export function emaByTime(x: Float64Array, time: Float64Array, halfLife: number, start: EmaStart): Float64Array {
  if (!(halfLife > 0)) throw new ArgumentError('halflife', 'a stretch of time above 0', halfLife);
  const out = new Float64Array(x.length).fill(NaN);
  let average = 0;
  let weights = 0;
  let last = NaN;
  for (let t = 0; t < x.length; t++) {
    const value = x[t];
    if (value - value !== 0) continue;
    const kept = Number.isNaN(last) ? 0 : 2 ** ((last - time[t]) / halfLife);
    weights = 1 + kept * weights;
    const share = start === 'weighted' ? 1 / weights : 1 - kept;
    average += share * (value - average);
    out[t] = average;
    last = time[t];
  }
  return out;
}
