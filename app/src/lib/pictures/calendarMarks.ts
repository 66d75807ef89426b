import type { Calendar, Precision } from '@jaunty-ledger/core';
import { ticksInView, type DayStarts } from '$lib/chart/calendarTicks';

/** Marks of the calendar: which row each stands at, and its text. */
export type CalendarMark = { at: number; text: string };

/** Of a small plot, whose width is not known here. */
const USUAL_PX = 560;

/** The ticks of the calendar for the rows [from, to) of a small plot. */
export function calendarMarks(
  { time, days }: { time: Float64Array; days: DayStarts },
  [from, to]: readonly [number, number],
  calendar: Calendar,
  precision: Precision,
  widthPx = USUAL_PX,
): CalendarMark[] {
  const view = { first: from, count: Math.max(1, to - from) };
  return ticksInView(view, time, days, calendar, widthPx, precision).map(({ row, text }) => ({ at: row, text }));
}
