import { filledOf, lessLine } from './straightLines.js';
import { NOTHING, squaresOf, deviationsOf } from '../numeric/deviations.js';
import { powersOf } from './periodogram.js';

/** A frequency at which a column swings. */
export interface Cycle {
  /** Whole swings over all rows, and the rows of one. */
  j: number;
  period: number;
  power: number;
  /** Of the power of all frequencies, and of what the stronger cycles leave of it. */
  share: number;
  g: number;
  /** The chance of so strong a cycle in white noise (Fisher 1929). */
  p: number;
}

export interface Cycles {
  /** Rows from the first to the last value, and those of them that were filled. */
  count: number;
  filled: number;
  /** Power by frequency, from one swing over all rows on. */
  power: Float64Array;
  /** The strongest five peaks, the strongest first. */
  peaks: Cycle[];
}

const MOST_PEAKS = 5;
/** Peaks with less of all power are rounding. */
const LEAST_SHARE = 1e-9;

/**
 * The swings of a column, less its straight line.
 * @param x  values of any unit; gaps are filled on straight lines
 * @see definitions, section 10
 */
export function cycles(x: Float64Array): Cycles {
  const { values, filled } = filledOf(x);
  const n = values.length;
  const frequencies = Math.max(0, Math.floor((n - 1) / 2));
  const rest = lessLine(values);
  const isFlat = !(squaresOf(rest) > NOTHING * squaresOf(deviationsOf(values)));
  const power = isFlat ? new Float64Array(frequencies) : powersOf(rest, frequencies);
  const total = power.reduce((sum, one) => sum + one, 0);
  const found: Cycles = { count: n, filled, power, peaks: [] };
  if (!(total > 0)) return found;
  const at = (index: number) => power[index] ?? -Infinity;
  const peaks: number[] = [];
  for (let index = 0; index < frequencies; index++)
    if (at(index) > at(index - 1) && at(index) > at(index + 1) && at(index) >= LEAST_SHARE * total) peaks.push(index);
  peaks.sort((a, b) => power[b] - power[a]).splice(MOST_PEAKS);
  let left = total;
  peaks.forEach((index, order) => {
    const g = power[index] / left;
    found.peaks.push({
      j: index + 1,
      period: n / (index + 1),
      power: power[index],
      share: power[index] / total,
      g,
      p: chanceOfShare(g, frequencies - order),
    });
    left -= power[index];
  });
  return found;
}

/** The chance that the greatest of so many shares of noise is at least g. */
function chanceOfShare(g: number, count: number): number {
  // the alternating sum loses its digits where the chance is 1 to six places
  if (count * (1 - g) ** (count - 1) > 14) return 1;
  let sum = 0;
  let choose = 1;
  for (let k = 1; k <= Math.min(count, Math.floor(1 / g)); k++) {
    choose *= (count - k + 1) / k;
    const term = choose * Math.max(0, 1 - k * g) ** (count - 1);
    sum += k % 2 === 1 ? term : -term;
  }
  return Math.min(1, sum);
}
