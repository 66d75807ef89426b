import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { isTimed, type BarRule } from './barKind.js';
import { timedKind } from './timedKinds.js';

/**
 * Starts of the bars that come after one, by the calendar: no weekend, no closed date, no hour outside the session.
 * @param last   start of a bar of the rule
 * @param count  how many starts are asked for
 * @returns      `count` instants that rise; none where bars do not go by the clock, since nobody knows when they will end
 * @see definitions, section 5, displaced
 */
export function barsToCome(rule: BarRule, calendar: Calendar, last: Instant, count: number): Float64Array {
  const { kind, allHours } = rule;
  if (!isTimed(kind)) return new Float64Array(0);
  const intervals = timedKind(kind).intervals(kind, calendar, allHours);
  if (!intervals.seek(last)) return new Float64Array(0);
  return Float64Array.from({ length: count }, () => {
    intervals.next();
    return intervals.start;
  });
}
