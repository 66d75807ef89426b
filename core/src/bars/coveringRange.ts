import type { Calendar } from '../time/calendar.js';
import { dateText, dayNumber, weekdayOf, type DayNumber, type Instant } from '../time/instant.js';
import type { BarRule, PeriodUnit } from './barRule.js';

/**
 * The stretch of records, [from, to), that the bars which start in [from, to) are made of and no other bar is; nothing where
 * bars hang on all that came before them: running totals, and empty intervals that carry a price on.
 */
export function coveringRange(
  { kind, empty }: BarRule,
  calendar: Calendar,
  { from, to }: { from: Instant; to: Instant },
): { from: Instant; to: Instant } | undefined {
  if (empty !== 'skip' || (kind.by !== 'interval' && kind.by !== 'period')) return undefined;
  const unit = kind.by === 'period' ? kind.unit : 'day';
  const startOf = (date: DayNumber) => calendar.dayOn(date).startsAt;
  return {
    from: Number.isFinite(from) ? startOf(firstDate(calendar.dayAt(from).date, unit)) : from,
    to: Number.isFinite(to) ? startOf(dateAfter(firstDate(calendar.dayAt(to).date, unit), unit)) : to,
  };
}

const MONTHS: Partial<Record<PeriodUnit, number>> = { month: 1, quarter: 3, year: 12 };

/** The first date of the period that a date lies in. */
function firstDate(date: DayNumber, unit: PeriodUnit): DayNumber {
  if (unit === 'day') return date;
  if (unit === 'week') return date - weekdayOf(date);
  const [year, month] = dateText(date).split('-').map(Number);
  return monthStart(year, month - 1 - ((month - 1) % MONTHS[unit]!));
}

/** The first date of the period after the one that begins with a date. */
function dateAfter(first: DayNumber, unit: PeriodUnit): DayNumber {
  if (unit === 'day') return first + 1;
  if (unit === 'week') return first + 7;
  const [year, month] = dateText(first).split('-').map(Number);
  return monthStart(year, month - 1 + MONTHS[unit]!);
}

/** The date that a month begins with; months count from 0 and may run over the year's end. */
function monthStart(year: number, month: number): DayNumber {
  const whole = year * 12 + month;
  return dayNumber(`${Math.floor(whole / 12)}-${String((whole % 12) + 1).padStart(2, '0')}-01`);
}
