import { requireWhole } from '../arguments.js';
import { isFinite } from '../windows/anchoredSums.js';
import { blockSum } from '../windows/blockSum.js';
import { boxMeasure, type BoxMeasure } from './boxes.js';
import { SPREAD_EXPONENTS, SPREAD_WINDOWS, SPREADS } from './hurstSpreads.js';
import { fitLine, type Line } from './leastSquares.js';

export const HURST_METHODS = ['rs', 'dfa', 'variance'] as const;
export type HurstMethod = (typeof HURST_METHODS)[number];

/** Columns without a unit: the exponent, its standard error, the spread of the estimate, and the R squared of the fit. */
export interface Hurst {
  hurst: Float64Array;
  spread: Float64Array;
  error: Float64Array;
  rsquared: Float64Array;
}

/** Fewest returns that an exponent is told from. */
export const SHORTEST_HURST = 64;

/** Rows of a block: the arrays of its boxes stay small. */
const BLOCK_ROWS = 4096;

/**
 * Hurst exponent of stationary increments over the last `bars` rows, three ways.
 * @param x         n returns; a window with a missing one gives NaN
 * @param bars      length of the window W, at least 64
 * @param progress  told the share done, 0 to 1, after each block of rows; it may throw to stop
 * @param first     row to begin with; those before it are looked back on, and get no exponent
 * @throws {ArgumentError} for a window of fewer than 64
 * @remarks A box's measure is worked out once for all the windows it lies in: O(sum of the box sizes) a row, not
 *   O(W times their number).
 * @see definitions, section 9: Hurst 1951, Anis and Lloyd 1976; Peng et al. 1994, Kantelhardt et al. 2002
 */
export function rollingHurst(
  x: Float64Array,
  bars: number,
  by: HurstMethod,
  progress: (share: number) => void = () => undefined,
  first = 0,
): Hurst {
  requireWhole('bars', bars, { min: SHORTEST_HURST });
  const rows = x.length;
  const out: Hurst = {
    hurst: new Float64Array(rows).fill(NaN),
    spread: new Float64Array(rows).fill(NaN),
    error: new Float64Array(rows).fill(NaN),
    rsquared: new Float64Array(rows).fill(NaN),
  };
  const scales = by === 'variance' ? lagScales(bars) : boxScales(bars, by);
  const logSizes = new Float64Array(scales.length);
  const logSpreads = new Float64Array(scales.length);
  const line: Line = { slope: NaN, error: NaN, rsquared: NaN };
  const half = by === 'variance' ? 0.5 : 1;
  const shift = by === 'rs' ? 0.5 : 0;
  const spreadOf = hurstSpreadOf(by, bars);
  const start = Math.max(0, x.findIndex(isFinite));
  const blockRows = by === 'variance' ? bars : BLOCK_ROWS;
  const begin = Math.max(first, start);
  let missing = -1; // the last row that has no value
  for (let row = 0; row < begin; row++) if (!isFinite(x[row])) missing = row;
  for (let t = begin, end: number; t < rows; t = end) {
    // rounding depends on where blocks of sums start: they are counted from the first value, and each is computed with the
    // block before it, so that a row is bit-identical when only the last blocks are passed in
    const block = t - ((t - start) % blockRows);
    end = Math.min(rows, block + blockRows);
    const from = Math.max(start, block - bars);
    const stretch = x.slice(from, end);
    const lastMissing = new Int32Array(end - t);
    for (let row = t; row < end; row++) {
      if (!isFinite(x[row])) missing = row;
      lastMissing[row - t] = missing;
    }
    for (let i = 0; i < stretch.length; i++) if (!isFinite(stretch[i])) stretch[i] = 0;
    const spreads = scales.map((scale) => scale.logSpreads(stretch, bars));
    for (let row = Math.max(t, bars - 1); row < end; row++) {
      if (lastMissing[row - t] > row - bars) continue;
      let count = 0;
      for (let k = 0; k < scales.length; k++) {
        const spread = spreads[k][row - from];
        if (spread - spread !== 0) continue;
        logSizes[count] = scales[k].logSize;
        logSpreads[count++] = spread;
      }
      fitLine(logSizes, logSpreads, count, line);
      out.hurst[row] = shift + half * line.slope;
      out.error[row] = half * line.error;
      out.spread[row] = spreadOf(out.hurst[row]);
      out.rsquared[row] = line.rsquared;
    }
    progress(end / rows);
  }
  return out;
}

/** The points that the exponent of one window is the slope through; x holds the window and nothing else. */
export function hurstPoints(x: Float64Array, by: HurstMethod): { logSizes: Float64Array; logSpreads: Float64Array } {
  const bars = x.length;
  const points = (by === 'variance' ? lagScales(bars) : boxScales(bars, by))
    .map((scale) => [scale.logSize, scale.logSpreads(x, bars)[bars - 1]] as const)
    .filter(([, spread]) => Number.isFinite(spread));
  return {
    logSizes: Float64Array.from(points, ([size]) => size),
    logSpreads: Float64Array.from(points, ([, spread]) => spread),
  };
}

/** The exponent of one window, the standard error of its line, and how far such an estimate spreads. */
export interface HurstEstimate {
  h: number;
  error: number;
  /** The standard deviation of the estimate. */
  spread: number;
}

/** The exponent of one window that its points give. @param bars  returns in the window */
export function hurstOfPoints(
  { logSizes, logSpreads }: ReturnType<typeof hurstPoints>,
  by: HurstMethod,
  bars: number,
): HurstEstimate {
  const line: Line = { slope: NaN, error: NaN, rsquared: NaN };
  fitLine(logSizes, logSpreads, logSizes.length, line);
  const share = by === 'variance' ? 0.5 : 1;
  const h = (by === 'rs' ? 0.5 : 0) + share * line.slope;
  return { h, error: share * line.error, spread: hurstSpreadOf(by, bars)(h) };
}

/** One point of the fit: a size, and for each row the logarithm of how far things spread at that size; not finite for none. */
interface Scale {
  logSize: number;
  logSpreads: (stretch: Float64Array, bars: number) => Float64Array;
}

/** Lags of `variance`: mean square distance of the running sum from itself, 1, 2, 4 ... rows later. */
function lagScales(bars: number): Scale[] {
  const scales: Scale[] = [];
  for (let lag = 1; lag <= bars / 8; lag *= 2)
    scales.push({
      logSize: Math.log(lag),
      logSpreads: (stretch) => {
        const squares = new Float64Array(stretch.length);
        blockSum(stretch, lag, lag, false, squares);
        for (let i = 0; i < squares.length; i++) squares[i] = i < lag - 1 ? 0 : squares[i] * squares[i];
        const means = new Float64Array(stretch.length);
        blockSum(squares, bars - lag + 1, 1, true, means);
        return logarithms(means, 1, 0);
      },
    });
  return scales;
}

/** Box sizes of `rs` and `dfa`, 8 times powers of the root of 2. */
function boxSizes(bars: number): number[] {
  const sizes = new Set<number>();
  for (let k = 0; ; k++) {
    const size = Math.floor(8 * 2 ** (k / 2));
    if (size > bars / 4) return [...sizes];
    sizes.add(size);
  }
}

function boxScales(bars: number, by: 'rs' | 'dfa'): Scale[] {
  return boxSizes(bars).map((size) => {
    const measure = boxMeasure(by, size);
    const expected = by === 'rs' ? Math.log(expectedRange(size)) : 0;
    return {
      logSize: Math.log(size),
      logSpreads: (stretch) =>
        by === 'rs'
          ? logarithms(meansOfBoxes(stretch, bars, size, measure, false), 1, expected)
          : logarithms(meansOfBoxes(stretch, bars, size, measure, true), 0.5, 0),
    };
  });
}

/** factor × ln x - less, in place. */
function logarithms(x: Float64Array, factor: number, less: number): Float64Array {
  for (let i = 0; i < x.length; i++) x[i] = factor * Math.log(x[i]) - less;
  return x;
}

/** Mean of the measures of a window's boxes, from the front and with `bothEnds` from the back too; NaN boxes are left out. */
function meansOfBoxes(
  stretch: Float64Array,
  bars: number,
  size: number,
  measure: BoxMeasure,
  bothEnds: boolean,
): Float64Array {
  const rows = stretch.length;
  const boxes = new Float64Array(rows); // by the box's first row
  const means = new Float64Array(rows).fill(NaN);
  const count = Math.floor(bars / size);
  if (2 * count * (rows - bars + 1) < rows - size)
    // a window or a few of them: only the boxes that these have
    for (let row = bars - 1; row < rows; row++)
      for (let box = 0; box < count; box++)
        for (const start of [row - bars + 1 + box * size, row + 1 - (box + 1) * size])
          boxes[start] = measure(stretch, start);
  else for (let start = 0; start + size <= rows; start++) boxes[start] = measure(stretch, start);
  for (let row = bars - 1; row < rows; row++) {
    let sum = 0;
    let used = 0;
    const first = row - bars + 1;
    for (let box = 0; box < count; box++) {
      const front = boxes[first + box * size];
      if (front === front) {
        sum += front;
        used++;
      }
      if (!bothEnds) continue;
      sum += boxes[row + 1 - (box + 1) * size];
      used++;
    }
    means[row] = sum / used;
  }
  return means;
}

/**
 * Range of the running sums of n independent normal values over their deviation, as expected.
 * @see Anis and Lloyd 1976
 */
export function expectedRange(size: number): number {
  // Gamma((n-1)/2) / Gamma(n/2), two steps at a time from n = 2 or 3
  let ratio = size % 2 === 0 ? Math.sqrt(Math.PI) : 2 / Math.sqrt(Math.PI);
  for (let n = size % 2 === 0 ? 2 : 3; n < size; n += 2) ratio *= (n - 1) / n;
  let sum = 0;
  for (let i = 1; i < size; i++) sum += Math.sqrt((size - i) / i);
  return (ratio / Math.sqrt(Math.PI)) * sum;
}

/**
 * How far an estimate spreads: the standard deviation over paths of exact fractional Gaussian noise of the same length and
 * exponent, from a table. Between its windows the logarithm of the spread is linear in that of the length, and beyond them too;
 * exponents are taken as 0.1 to 0.9.
 * @param bars  returns in the window
 * @returns     the spread by the estimated exponent; NaN for NaN
 * @see definitions, section 9, the part `spread`
 */
export function hurstSpreadOf(by: HurstMethod, bars: number): (h: number) => number {
  const above = SPREAD_WINDOWS.findIndex((window, at) => at > 0 && window >= bars);
  const row = (above < 0 ? SPREAD_WINDOWS.length - 1 : above) - 1;
  const [near, far] = [SPREAD_WINDOWS[row], SPREAD_WINDOWS[row + 1]];
  const share = Math.log(bars / near) / Math.log(far / near);
  const spreads = SPREADS[by][row].map((spread, at) => spread * (SPREADS[by][row + 1][at] / spread) ** share);
  const last = SPREAD_EXPONENTS.length - 1;
  const step = SPREAD_EXPONENTS[1] - SPREAD_EXPONENTS[0];
  return (h) => {
    if (h !== h) return NaN;
    const place = Math.min(last, Math.max(0, (h - SPREAD_EXPONENTS[0]) / step));
    const at = Math.min(last - 1, Math.floor(place));
    return spreads[at] + (place - at) * (spreads[at + 1] - spreads[at]);
  };
}
