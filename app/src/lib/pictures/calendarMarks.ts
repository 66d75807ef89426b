import { instantOf, type Calendar, type Precision } from '@jaunty-ledger/core';
import { momentFigures } from '$lib/plots/stretchText';

/** Marks of the calendar: which row each stands at, and its text. */
export type CalendarMark = { at: number; text: string };

/** The first row of each year, month or day in view, whichever are few enough to be named. */
export function calendarMarks(
  time: readonly string[],
  [from, to]: readonly [number, number],
  calendar: Calendar,
  precision: Precision,
  most = 8,
): CalendarMark[] {
  const texts = time.slice(from, to).map((at) => momentFigures(instantOf(at), calendar, precision));
  const length = [4, 7, 10].find((chars) => new Set(texts.map((text) => text.slice(0, chars))).size > 2) ?? 10;
  const found = texts.flatMap((text, at) =>
    at > 0 && text.slice(0, length) !== texts[at - 1].slice(0, length)
      ? [{ at: from + at, text: text.slice(0, length) }]
      : [],
  );
  const step = Math.max(1, Math.ceil(found.length / most));
  return found.filter((_, index) => index % step === 0);
}
