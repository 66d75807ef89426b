import { DAY, SECOND } from '../time/instant.js';
import { monthsBefore } from '../time/periods.js';
import type { RowTimes, Window } from './window.js';

/** How far apart bars of equal length follow each other: seconds, or months. */
export interface BarInterval {
  seconds?: number;
  months?: number;
}

/**
 * The first row whose window in time is full: the first of all rows lies no later than one interval after the window's
 * start. Rows before it see the beginning of a window only.
 * @param interval  of the bars; without one the first row must lie at or before the start
 * @returns         0 for windows that are not of a length in time
 * @see definitions, section 4, short starts
 */
export function firstFullRow(window: Window, { time, calendar }: RowTimes, interval?: BarInterval | null): number {
  if (time.length === 0) return 0;
  const { seconds = 0, months = 0 } = interval ?? {};
  switch (window.kind) {
    case 'time': {
      const reach = seconds * SECOND - window.micros;
      const isFull =
        months > 0
          ? // of bars by the calendar, dates are compared
            (row: number) => monthsBefore(dateAt(time[0]), months) <= dateAt(time[row] - window.micros)
          : (row: number) => time[0] <= time[row] + reach;
      return firstOf(isFull, window.skip);
    }
    case 'months': {
      const days = months > 0 ? 0 : Math.max(1, Math.floor((seconds * SECOND) / DAY));
      const first = monthsBefore(dateAt(time[0]), months) - days;
      return firstOf((row) => first <= monthsBefore(dateAt(time[row]), window.months), window.skip);
    }
    case 'bars':
    case 'this':
    case 'all':
      return 0;
    default:
      return window satisfies never;
  }

  function dateAt(at: number): number {
    return calendar.dayAt(at).date;
  }

  function firstOf(isFull: (row: number) => boolean, skip: number): number {
    // once full, all later windows are
    let [short, full] = [-1, time.length - skip];
    while (full - short > 1) {
      const middle = (short + full) >> 1;
      if (isFull(middle)) full = middle;
      else short = middle;
    }
    return Math.min(time.length, Math.max(0, full) + skip);
  }
}
