import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { isTimed, type BarRule } from './barKind.js';
import { timedKind } from './timedKinds.js';

/**
 * Starts and ends of the bars that come after one, by the calendar: no weekend, no closed date, no hour outside the session.
 * @param last   start of a bar of the rule
 * @param count  how many starts are asked for
 * @returns      starts and ends of `count` bars; none where bars do not go by the clock, since nobody knows when they will end
 * @see definitions, section 5, displaced
 */
export function barsToCome(
  rule: BarRule,
  calendar: Calendar,
  last: Instant,
  count: number,
): { start: Float64Array; end: Float64Array } {
  const { kind, allHours } = rule;
  const none = { start: new Float64Array(0), end: new Float64Array(0) };
  if (!isTimed(kind)) return none;
  const intervals = timedKind(kind).intervals(kind, calendar, allHours);
  if (!intervals.seek(last)) return none;
  const [start, end] = [new Float64Array(count), new Float64Array(count)];
  for (let bar = 0; bar < count; bar++) {
    intervals.next();
    [start[bar], end[bar]] = [intervals.start, intervals.end];
  }
  return { start, end };
}
