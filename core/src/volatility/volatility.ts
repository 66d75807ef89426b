import { ema } from '../averages/ema.js';
import { logReturn } from '../returns/moves.js';
import { rollingVariance } from '../windows/moments.js';
import { rollingMean } from '../windows/rollingSum.js';
import { lastBars } from '../windows/window.js';

export const ESTIMATORS = ['close', 'parkinson', 'garman-klass', 'rogers-satchell', 'yang-zhang', 'ewma'] as const;
export type Estimator = (typeof ESTIMATORS)[number];

/** Columns of prices; all of one length and unit. */
interface Prices {
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
}

const SAMPLE = { divisor: 'm-1' } as const;

/**
 * Variance of the log price per bar, by one of six estimators.
 * @param bars    length of the window N; `ewma` has none
 * @param factor  share that `ewma` keeps of its variance so far
 * @returns       n variances per bar, without a unit
 * @see definitions, section 8; Parkinson 1980, Garman and Klass 1980, Rogers and Satchell 1991, Yang and Zhang 2000
 */
export function varianceOf(prices: Prices, by: Estimator, bars: number, factor = 0.94): Float64Array {
  const { open, high, low, close } = prices;
  const window = lastBars(bars);
  switch (by) {
    case 'close':
      return rollingVariance(logReturn(close, { rows: 1 }), window, bars, SAMPLE);
    case 'parkinson':
      return rollingMean(
        rowByRow(high.length, (t) => Math.log(high[t] / low[t]) ** 2 / (4 * Math.LN2)),
        window,
        bars,
      );
    case 'garman-klass':
      return rollingMean(
        rowByRow(
          high.length,
          (t) => 0.5 * Math.log(high[t] / low[t]) ** 2 - (2 * Math.LN2 - 1) * Math.log(close[t] / open[t]) ** 2,
        ),
        window,
        bars,
      );
    case 'rogers-satchell':
      return rollingMean(rogersSatchell(prices), window, bars);
    case 'yang-zhang': {
      const nights = rowByRow(open.length, (t) => (t > 0 ? Math.log(open[t] / close[t - 1]) : NaN));
      const days = rowByRow(open.length, (t) => Math.log(close[t] / open[t]));
      const overNight = rollingVariance(nights, window, bars, SAMPLE);
      const overDay = rollingVariance(days, window, bars, SAMPLE);
      const within = rollingMean(rogersSatchell(prices), window, bars);
      const k = 0.34 / (1.34 + (bars + 1) / (bars - 1));
      return rowByRow(open.length, (t) => overNight[t] + k * overDay[t] + (1 - k) * within[t]);
    }
    case 'ewma': {
      const squares = logReturn(close, { rows: 1 });
      for (let t = 0; t < squares.length; t++) squares[t] *= squares[t];
      return ema(squares, { factor: 1 - factor, from: 1, start: 'first', seed: 1 });
    }
  }
}

function rogersSatchell({ open, high, low, close }: Prices): Float64Array {
  return rowByRow(open.length, (t) => {
    const [h, l] = [high[t], low[t]];
    return Math.log(h / close[t]) * Math.log(h / open[t]) + Math.log(l / close[t]) * Math.log(l / open[t]);
  });
}

/** A column of what `value` gives for each row; infinities are missing. */
function rowByRow(rows: number, value: (row: number) => number): Float64Array {
  const out = new Float64Array(rows);
  for (let t = 0; t < rows; t++) {
    const one = value(t);
    out[t] = one - one === 0 ? one : NaN;
  }
  return out;
}
