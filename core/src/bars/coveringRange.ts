import type { Calendar } from '../time/calendar.js';
import type { DayNumber, Instant } from '../time/instant.js';
import { nextPeriod, periodStart } from '../time/periods.js';
import { isTimed, type BarRule } from './barKind.js';

/**
 * The stretch of records, [from, to), that the bars which start in [from, to) are made of and no other bar is; nothing where
 * bars depend on all that came before them: running totals, and empty intervals that carry a price on.
 */
export function coveringRange(
  { kind, empty }: BarRule,
  calendar: Calendar,
  { from, to }: { from: Instant; to: Instant },
): { from: Instant; to: Instant } | undefined {
  if (empty !== 'skip' || !isTimed(kind)) return undefined;
  const unit = kind.by === 'period' ? kind.unit : 'day';
  const startOf = (date: DayNumber) => calendar.dayOn(date).startsAt;
  return {
    from: Number.isFinite(from) ? startOf(periodStart(calendar.dayAt(from).date, unit)) : from,
    to: Number.isFinite(to) ? startOf(nextPeriod(periodStart(calendar.dayAt(to).date, unit), unit)) : to,
  };
}
