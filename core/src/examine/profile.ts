import { ArgumentError } from '../arguments.js';
import type { Calendar } from '../time/calendar.js';
import { dateText, hourOfDay, weekdayOf } from '../time/instant.js';

/** What rows are put together by: hours by the wall clock, all else by the trading day they belong to. */
export const PROFILES = ['slot', 'hour', 'weekday', 'day', 'month', 'session'] as const;
export type ProfileBy = (typeof PROFILES)[number];

/**
 * The group of each row by a part of the calendar: of a slot its place from the opening, of an hour 0 to 23, of a weekday 0
 * for Monday; days of the month and months count from 1, sessions are their dates.
 * @param time      instants of the rows
 * @param interval  microseconds of a slot, from the opening of the session on
 * @throws {ArgumentError} for slots of no length
 * @see definitions, section 10
 */
export function calendarGroups(
  time: Float64Array,
  calendar: Calendar,
  by: ProfileBy,
  interval: number | undefined,
): Float64Array {
  if (by === 'slot' && !(interval! > 0)) throw new ArgumentError('interval', 'a length above 0', String(interval));
  return time.map((at) => groupOf(at, calendar, by, interval!));
}

function groupOf(at: number, calendar: Calendar, by: ProfileBy, interval: number): number {
  const wall = calendar.zone.wallAt(at);
  if (by === 'hour') return hourOfDay(wall);
  const { date, anchor } = calendar.dayAt(at);
  if (by === 'slot') return Math.floor((wall - anchor) / interval);
  if (by === 'weekday') return weekdayOf(date);
  if (by === 'session') return date;
  const [, month, day] = dateText(date).split('-').map(Number);
  return by === 'day' ? day : month;
}
