import type { Precision } from '@jaunty-ledger/core';
import type { EntryModel } from './laneModel';

/* What the figures of an entry with several values say beside each other, in words. */

/** What rows are called that are so far apart. */
const ROWS: Record<Precision, [one: string, several: string]> = {
  moment: ['bar', 'bars'],
  day: ['day', 'days'],
  month: ['month', 'months'],
  quarter: ['quarter', 'quarters'],
  year: ['year', 'years'],
  period: ['period', 'periods'],
};

/**
 * `between the bands, upper half`, `above its signal for 6 days`; nothing for entries whose values do not bear on each other.
 * @param close  the closes of the bars
 * @param row    of the bars; an entry that is drawn later is read where it stands
 */
export function readingOf(model: EntryModel, close: Float64Array, row: number, precision: Precision): string {
  const at = row - model.shift;
  const upper = model.columns.find(({ role }) => role === 'upper')?.values[at];
  const lower = model.columns.find(({ role }) => role === 'lower')?.values[at];
  const middle = model.columns.find(({ role }) => role === undefined)?.values[at];
  if (upper !== undefined && lower !== undefined && middle !== undefined)
    return bandText(close[row], lower, middle, upper);
  const gap = model.columns.find(({ role }) => role === 'difference');
  return gap ? sideText(gap.values, at, precision) : '';
}

function bandText(price: number, lower: number, middle: number, upper: number): string {
  if ([price, lower, middle, upper].some((value) => value === undefined || Number.isNaN(value))) return '';
  if (price > upper) return 'above the bands';
  if (price < lower) return 'below the bands';
  if (price === middle) return 'between the bands, in the middle';
  return `between the bands, ${price > middle ? 'upper' : 'lower'} half`;
}

/** On which side of its signal a line is, and for how many rows up to this one. */
function sideText(gap: Float64Array, at: number, precision: Precision): string {
  const sign = Math.sign(gap[at] ?? NaN);
  if (Number.isNaN(sign)) return '';
  if (sign === 0) return 'at its signal';
  let first = at;
  while (first > 0 && Math.sign(gap[first - 1]) === sign) first--;
  const rows = at - first + 1;
  return `${sign > 0 ? 'above' : 'below'} its signal for ${rows.toLocaleString('en')} ${ROWS[precision][rows === 1 ? 0 : 1]}`;
}
