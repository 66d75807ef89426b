import { requireWhole } from '../arguments.js';
import { rollingSum } from '../windows/rollingSum.js';
import { lastBars } from '../windows/window.js';
import { filledOf } from './straightLines.js';
import { NOTHING, squaresOf, sumOf } from '../numeric/deviations.js';

/** A column in parts: where it drifts, what comes again with each cycle, and the rest. */
export interface SeasonalShape {
  /** Rows from the first to the last value, and those of them that were filled. */
  count: number;
  filled: number;
  /** By position in the cycle; positions are counted from row 0 of the column. NaN for too few rows. */
  shape: Float64Array;
  /** As long as the column; NaN within half a cycle of its ends. */
  trend: Float64Array;
  remainder: Float64Array;
  /** How much of the spread each explains, from 0 to 1 (Wang, Smith and Hyndman 2006). */
  strength: { season: number; trend: number };
}

/**
 * @param x  values of any unit; gaps are filled on straight lines
 * @param s  rows of a cycle, from 2
 * @param by  whether the shape is added to the trend, or multiplied with it
 * @throws {ArgumentError} for an s that is no whole number from 2
 * @see definitions, section 10
 */
export function seasonalShape(x: Float64Array, s: number, by: 'difference' | 'ratio' = 'difference'): SeasonalShape {
  requireWhole('s', s, { min: 2, max: Infinity });
  const { values, first, filled } = filledOf(x);
  const n = values.length;
  const blank = () => new Float64Array(x.length).fill(NaN);
  const [shape, trend, remainder] = [new Float64Array(s).fill(NaN), blank(), blank()];
  const found = { count: n, filled, shape, trend, remainder, strength: { season: NaN, trend: NaN } };
  if (n < 2 * s) return found;
  const half = s >> 1;
  // about the first value, so that numbers around 1e9 keep their digits
  const base = by === 'ratio' ? 0 : values[0];
  const about = values.map((value) => value - base);
  const width = 2 * half + 1;
  const sumsBack = rollingSum(about, lastBars(width), width);
  const drift = new Float64Array(n);
  const known: number[] = [];
  for (let row = half; row < n - half; row++) {
    // an even cycle has half of either end
    const ends = s % 2 === 0 ? (about[row - half] + about[row + half]) / 2 : 0;
    drift[row] = (sumsBack[row + half] - ends) / s;
    trend[first + row] = base + drift[row];
    known.push(first + row);
  }
  const value = (row: number) => values[row - first];
  const away = (row: number) => (by === 'ratio' ? value(row) / trend[row] : value(row) - base - drift[row - first]);
  const [sums, counts] = [new Float64Array(s), new Float64Array(s)];
  for (const row of known) {
    sums[row % s] += away(row);
    counts[row % s]++;
  }
  const means = sums.map((sum, position) => sum / counts[position]);
  const middle = sumOf(means) / s;
  means.forEach((mean, position) => (shape[position] = by === 'ratio' ? mean / middle : mean - middle));
  for (const row of known) {
    const rest = away(row);
    remainder[row] = by === 'ratio' ? rest / shape[row % s] : rest - shape[row % s];
  }
  const on = (of: (row: number) => number) =>
    Float64Array.from(known, (row) => (by === 'ratio' ? Math.log(of(row)) : of(row)));
  const [rests, shapes, trends] = [
    on((row) => remainder[row]),
    on((row) => shape[row % s]),
    on((row) => (by === 'ratio' ? trend[row] : drift[row - first])),
  ];
  const scale = squaresOf(on((row) => value(row) - base));
  const strengthOf = (part: Float64Array) => {
    const spread = spreadOf(
      part.map((one, index) => one + rests[index]),
      scale,
    );
    return Math.max(0, 1 - spreadOf(rests, scale) / spread);
  };
  return { ...found, strength: { season: strengthOf(shapes), trend: strengthOf(trends) } };
}

/** Sum of squared deviations; 0 where it is rounding beside the squares of the values. */
function spreadOf(part: Float64Array, scale: number): number {
  const mean = sumOf(part) / part.length;
  const spread = squaresOf(part.map((value) => value - mean));
  return spread < NOTHING * scale ? 0 : spread;
}
