import type { Calendar } from './calendar.js';
import { readDatedText } from './datedText.js';
import { DAY, type Instant } from './instant.js';
import { nextPeriod } from './periods.js';
import { periodInstant } from './rfc3339.js';

/** Instants [from, to). */
export interface Stretch {
  from: Instant;
  to: Instant;
}

/**
 * What a time covers that is told as exactly as it is typed: `2019` that year, `Mar 2019` that month, `2026-02-02` that day,
 * `2026-02-02 10:00` that minute; of periods that are only numbered, `7`.
 * @param calendar  whose zone a time without an offset is of
 * @returns         nothing where the text is no time
 */
export function toldStretch(text: string, calendar: Calendar): Stretch | undefined {
  if (calendar.undated) {
    const period = Number(text);
    return /^\s*-?\d+\s*$/.test(text) ? { from: periodInstant(period), to: periodInstant(period + 1) } : undefined;
  }
  const told = readDatedText(text, 'year-first');
  if (!told || told.precision === 'period') return undefined;
  const { day, clock, offset, precision } = told;
  const at = (wall: number) => (offset === undefined ? calendar.zone.instantOf(wall) : wall - offset);
  const from = at(day * DAY + clock);
  if (precision !== 'moment') return { from, to: at(nextPeriod(day, precision) * DAY) };
  const hasSeconds = /\d:\d\d:\d/.test(text);
  return { from, to: from + (hasSeconds ? 1e6 : 60e6) };
}
