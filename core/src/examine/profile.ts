import { ArgumentError } from '../arguments.js';
import type { Calendar } from '../time/calendar.js';
import { dateText, hourOfDay, weekdayOf } from '../time/instant.js';
import { isFinite } from '../windows/anchoredSums.js';
import { quantileOf } from './summary.js';
import { sumOf } from './valid.js';

/** What rows are put together by: hours by the wall clock, all else by the trading day they belong to. */
export const PROFILES = ['slot', 'hour', 'weekday', 'day', 'month'] as const;
export type ProfileBy = (typeof PROFILES)[number];

export interface ProfileGroup {
  /** Of a slot its place from the opening, of an hour 0 to 23, of a weekday 0 for Monday; days and months count from 1. */
  group: number;
  count: number;
  mean: number;
  quartiles: [number, number, number];
}

/**
 * A column by a part of the calendar; groups without a row are left out.
 * @param time      instants of the rows
 * @param x         as many values; missing ones do not count
 * @param interval  microseconds of a slot, from the opening of the session on
 * @throws {ArgumentError} for slots of no length
 * @see definitions, section 10
 */
export function profile(
  time: Float64Array,
  x: Float64Array,
  calendar: Calendar,
  by: ProfileBy,
  interval = NaN,
): ProfileGroup[] {
  if (by === 'slot' && !(interval > 0)) throw new ArgumentError('interval', 'a length above 0', String(interval));
  const groups = new Map<number, number[]>();
  for (let row = 0; row < time.length; row++) {
    const group = groupOf(time[row], calendar, by, interval);
    const values = groups.get(group) ?? [];
    groups.set(group, values);
    if (isFinite(x[row])) values.push(x[row]);
  }
  return [...groups]
    .sort(([a], [b]) => a - b)
    .map(([group, values]) => {
      const sorted = Float64Array.from(values).sort();
      const quartiles = [0.25, 0.5, 0.75].map((p) => quantileOf(sorted, p)) as [number, number, number];
      return { group, count: sorted.length, mean: sumOf(sorted) / sorted.length, quartiles };
    });
}

function groupOf(at: number, calendar: Calendar, by: ProfileBy, interval: number): number {
  const wall = calendar.zone.wallAt(at);
  if (by === 'hour') return hourOfDay(wall);
  const { date, anchor } = calendar.dayAt(at);
  if (by === 'slot') return Math.floor((wall - anchor) / interval);
  if (by === 'weekday') return weekdayOf(date);
  const [, month, day] = dateText(date).split('-').map(Number);
  return by === 'day' ? day : month;
}
