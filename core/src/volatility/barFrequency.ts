import { isTimed } from '../bars/barKind.js';
import { parseBarRule } from '../bars/barRule.js';
import { timedKind } from '../bars/timedKinds.js';
import type { BarFrequency } from '../catalogue/functionEntry.js';
import type { Calendar } from '../time/calendar.js';
import { DAY, weekdayOf } from '../time/instant.js';

const DAYS_PER_YEAR = 365.2425;

/**
 * How many bars make a trading day and how many of those a year, of a tape's session and calendar.
 * @param rule  the bar rule as written; bars of no fixed length are counted over the days that the rows cover
 * @see definitions, section 8
 */
export function barFrequencyOf(time: Float64Array, calendar: Calendar, rule: string | undefined): BarFrequency {
  const daysPerYear = tradingDaysPerYear(time, calendar);
  const kind = rule === undefined ? undefined : parseBarRule(rule).kind;
  if (kind && isTimed(kind) && time.length > 0) {
    const longest = () => usualDay(time[0], calendar);
    return { barsPerDay: timedKind(kind).barsPerDay(kind, daysPerYear, longest), daysPerYear };
  }
  return { barsPerDay: barsPerDaySeen(time, calendar), daysPerYear };
}

/** A day with trading that is not cut short: the longest of a week's. */
function usualDay(from: number, calendar: Calendar) {
  let day = calendar.openDayAfter(calendar.dayAt(from).date - 1);
  let longest = day;
  for (let i = 0; i < 6; i++) {
    day = calendar.openDayAfter(day.date);
    if (day.closesAt - day.opensAt > longest.closesAt - longest.opensAt) longest = day;
  }
  return longest;
}

/** Weekdays of trading in a year, less the closed dates that fall on one in the years that the list covers. */
function tradingDaysPerYear(time: Float64Array, calendar: Calendar): number {
  const first = time.length > 0 ? calendar.dayAt(time[0]).date : 0;
  const firstWeekday = first - weekdayOf(first);
  let perWeek = 0;
  // a run of five weeks tells the weekdays even where some of its days are closed
  const open = new Set<number>();
  for (let date = firstWeekday; date < firstWeekday + 35; date++) if (calendar.isOpen(date)) open.add(weekdayOf(date));
  perWeek = open.size;
  const closed = (calendar.options.closed ?? []).filter((text) => !text.trim().includes(' '));
  const years = new Set(closed.map((text) => text.trim().slice(0, 4)));
  return (perWeek * DAYS_PER_YEAR) / 7 - (years.size > 0 ? closed.length / years.size : 0);
}

function barsPerDaySeen(time: Float64Array, calendar: Calendar): number {
  let days = 0;
  let endsAt = -Infinity;
  for (let row = 0; row < time.length; row++) {
    if (time[row] < endsAt) continue;
    days++;
    endsAt = Math.max(calendar.dayAt(time[row]).endsAt, time[row] + DAY / 24);
  }
  return days > 0 ? time.length / days : 1;
}
