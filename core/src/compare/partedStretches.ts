import { ArgumentError, requireWhole } from '../arguments.js';
import { rollingZscore } from '../windows/moments.js';
import { lastBars } from '../windows/window.js';

/** Rows over which two columns were apart. */
export interface PartedStretch {
  start: number;
  /** The row it ends at, which is not part of it; undefined while it is open. */
  end: number | undefined;
  rows: number;
  /** Which side of its usual level the spread was on. */
  side: 'above' | 'below';
  /** The greatest distance, in deviations; of correlations the lowest, its sign turned round. */
  peak: number;
  /** The row of that. */
  peakAt: number;
  /** Change of the spread over as many rows as z looks back on, from the end; NaN where those are not there. */
  after: number;
}

interface PartedChoices {
  /** Rows that a deviation is taken from. */
  rows: number;
  /** Deviations from which a stretch begins, and at which it ends. */
  begin?: number;
  end?: number;
}

/**
 * Stretches in which a spread was far from its usual level. Nothing later than a row is used for where it begins and ends.
 * @throws {ArgumentError} for fewer than 2 rows, or an end that is not below the beginning
 * @see definitions, section 13
 */
export function partedStretches(
  spread: Float64Array,
  { rows, begin = 2, end = 0.5 }: PartedChoices,
): { z: Float64Array; stretches: PartedStretch[] } {
  requireWhole('rows', rows, { min: 2 });
  if (!(end >= 0 && end < begin)) throw new ArgumentError('end', `from 0 to below ${begin}`, end);
  const z = rollingZscore(spread, lastBars(rows), rows);
  const stretches = stretchesOf(z, spread, rows, {
    begins: (value) => Math.abs(value) >= begin,
    ends: (value, side) => Math.abs(value) <= end || sideOf(value) !== side,
    distance: Math.abs,
  });
  return { z, stretches };
}

/**
 * Stretches in which a rolling correlation was low, after it has been high once: what has never gone together has not parted.
 * @param rows   that it is taken over
 * @param begin  at which a stretch begins, or below, and the higher one at which it ends
 * @throws {ArgumentError} for an end that is not above the beginning
 */
export function lowCorrelations(
  correlation: Float64Array,
  { rows, begin = 0, end = 0.5 }: PartedChoices,
): PartedStretch[] {
  if (!(end > begin && end <= 1)) throw new ArgumentError('end', `above ${begin} and at most 1`, end);
  const together = correlation.findIndex((value) => value >= end);
  if (together < 0) return [];
  const signal = correlation.map((value, row) => (row < together ? NaN : value));
  return stretchesOf(signal, correlation, rows, {
    begins: (value) => value <= begin,
    ends: (value) => value >= end,
    distance: (value) => -value,
  });
}

interface Marks {
  begins: (value: number) => boolean;
  ends: (value: number, side: PartedStretch['side']) => boolean;
  /** The greater, the farther apart. */
  distance: (value: number) => number;
}

const sideOf = (value: number): PartedStretch['side'] => (value > 0 ? 'above' : 'below');

/** Goes from row to row and looks at nothing later. Rows without a value are passed over. */
function stretchesOf(signal: Float64Array, moved: Float64Array, rows: number, marks: Marks): PartedStretch[] {
  const stretches: PartedStretch[] = [];
  let open: PartedStretch | undefined;
  for (let row = 0; row < signal.length; row++) {
    const value = signal[row];
    if (Number.isNaN(value)) continue;
    if (open && marks.ends(value, open.side)) {
      open.end = row;
      open.rows = row - open.start;
      open.after = (moved[row + rows] ?? NaN) - moved[row];
      open = undefined;
    }
    const distance = marks.distance(value);
    if (open && distance > open.peak) [open.peak, open.peakAt] = [distance, row];
    if (!open && marks.begins(value)) {
      const side = sideOf(value);
      open = { start: row, end: undefined, rows: 0, side, peak: distance, peakAt: row, after: NaN };
      stretches.push(open);
    }
  }
  if (open) open.rows = signal.length - open.start;
  return stretches;
}
