import type { Calendar, Precision } from '@jaunty-ledger/core';
import { momentFigures } from '$lib/plots/stretchText';

/** Marks of the calendar: which row each stands at, and its text. */
export type CalendarMark = { at: number; text: string };

/**
 * The first row of each year, month or day in view, whichever are few enough to be named.
 * @param time  instants of the rows
 * @param days  rows that days begin with: others have no mark, and are not looked at
 */
export function calendarMarks(
  { time, days }: { time: Float64Array; days: Int32Array },
  [from, to]: readonly [number, number],
  calendar: Calendar,
  precision: Precision,
  most = 8,
): CalendarMark[] {
  const inView = days.filter((row) => row > from && row < to);
  const before = time.length > from ? momentFigures(time[from], calendar, precision) : '';
  const texts = Array.from(inView, (row) => momentFigures(time[row], calendar, precision));
  const length = [4, 7, 10].find((chars) => new Set(texts.map((text) => text.slice(0, chars))).size > 2) ?? 10;
  const found = texts.flatMap((text, index) =>
    text.slice(0, length) === (texts[index - 1] ?? before).slice(0, length)
      ? []
      : [{ at: inView[index], text: text.slice(0, length) }],
  );
  const step = Math.max(1, Math.ceil(found.length / most));
  return found.filter((_, index) => index % step === 0);
}
