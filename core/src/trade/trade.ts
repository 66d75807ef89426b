import { ema, factorOfBars } from '../averages/ema.js';
import { rollingMean } from '../windows/rollingSum.js';
import { rollingStdev } from '../windows/moments.js';
import type { RowTimes, Window } from '../windows/window.js';

/** Columns of high, low and close, all in the unit of the price. */
interface HighLowClose {
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
}

/**
 * Mean and the lines `width` standard deviations (divisor m, the trade's habit) above and below it.
 * @see definitions, section 7
 */
export function bands(
  x: Float64Array,
  width: number,
  window: Window,
  from: number,
  times?: RowTimes,
): { mid: Float64Array; upper: Float64Array; lower: Float64Array } {
  const mid = rollingMean(x, window, Math.max(2, from), times);
  const upper = rollingStdev(x, window, from, { divisor: 'm' }, times);
  const lower = new Float64Array(x.length);
  for (let t = 0; t < x.length; t++) {
    const half = width * upper[t];
    upper[t] = mid[t] + half;
    lower[t] = mid[t] - half;
  }
  return { mid, upper, lower };
}

/** A fast exponential average less a slow one, the average of that, and the gap between the two. Lengths in bars. */
export function macd(
  x: Float64Array,
  fast: number,
  slow: number,
  signalBars: number,
): { line: Float64Array; signal: Float64Array; gap: Float64Array } {
  const average = (values: Float64Array, bars: number) =>
    ema(values, { factor: factorOfBars(bars), from: bars, start: 'first', seed: 1 });
  const line = average(x, fast);
  const slower = average(x, slow);
  for (let t = 0; t < x.length; t++) line[t] -= slower[t];
  const signal = average(line, signalBars);
  const gap = line.map((value, t) => value - signal[t]);
  return { line, signal, gap };
}

/** How far the price went in each bar, from the close before on; high - low in the first. In the unit of the price. */
export function trueRange({ high, low, close }: HighLowClose): Float64Array {
  const out = new Float64Array(high.length);
  for (let t = 0; t < out.length; t++) {
    const before = t > 0 ? close[t - 1] : NaN;
    const isKnown = !Number.isNaN(before);
    out[t] = isKnown ? Math.max(high[t], before) - Math.min(low[t], before) : high[t] - low[t];
  }
  return out;
}

/** The average that `atr` and `rsi` take: weight 1/N for the newest, seeded by the mean of the first N. */
const slowAverage = (x: Float64Array, bars: number): Float64Array =>
  ema(x, { factor: 1 / bars, from: bars, start: 'mean', seed: bars });

/** Average of the true range. @param bars  its length N */
export const averageTrueRange = (prices: HighLowClose, bars: number): Float64Array =>
  slowAverage(trueRange(prices), bars);

/**
 * Strength of the rises beside the falls, 0 to 100; 100 where there are none of the second, 50 where there are none at all.
 * @param bars  length of the averages of rises and of falls
 */
export function relativeStrength(x: Float64Array, bars: number): Float64Array {
  const moves = new Float64Array(x.length);
  const averageOf = (sign: 1 | -1): Float64Array => {
    moves[0] = NaN;
    for (let t = 1; t < x.length; t++) {
      const move = sign * (x[t] - x[t - 1]);
      moves[t] = move - move === 0 ? Math.max(0, move) : NaN;
    }
    return slowAverage(moves, bars);
  };
  const up = averageOf(1);
  const down = averageOf(-1);
  for (let t = 0; t < x.length; t++) {
    if (down[t] === 0) up[t] = up[t] > 0 ? 100 : 50;
    else up[t] = 100 - 100 / (1 + up[t] / down[t]);
  }
  return up;
}
