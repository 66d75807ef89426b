import type { Calendar, Precision } from '@jaunty-ledger/core';
import { dayStarts, ticksInView } from '$lib/chart/calendarTicks';
import type { ViewWindow } from '$lib/chart/viewWindow';

/** Marks of the calendar: which row each stands at, and its text. */
export type CalendarMark = { at: number; text: string };

/**
 * The ticks of the calendar for some rows, by the view of them.
 * @param time  instants of the rows, whose days are looked up once
 */
export function calendarMarks(
  time: Float64Array,
  calendar: Calendar,
  precision: Precision,
): (view: ViewWindow, widthPx: number) => CalendarMark[] {
  const days = dayStarts(time, calendar);
  return (view, widthPx) =>
    // a text stands after its mark: one that has no room there is left out with it
    ticksInView(view, time, days, calendar, widthPx, precision).flatMap(({ row, text, isLeft }) =>
      isLeft ? [] : [{ at: row, text }],
    );
}
