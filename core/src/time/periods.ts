import { DAY, dateText, weekdayOf, type DayNumber } from './instant.js';

/** Stretches of whole calendar dates. Weeks begin on Monday. */
export type PeriodUnit = 'day' | 'week' | 'month' | 'quarter' | 'year';
export const PERIOD_UNITS: readonly PeriodUnit[] = ['day', 'week', 'month', 'quarter', 'year'];

const MONTHS = { month: 1, quarter: 3, year: 12 } as const;

/** The first date of the period that a date lies in. */
export function periodStart(date: DayNumber, unit: PeriodUnit): DayNumber {
  if (unit === 'day') return date;
  if (unit === 'week') return date - weekdayOf(date);
  const [year, month] = yearAndMonth(date);
  return monthStart(year, month - ((month - 1) % MONTHS[unit]));
}

/** The first date of the period after the one that begins with a date. */
export function nextPeriod(start: DayNumber, unit: PeriodUnit): DayNumber {
  if (unit === 'day') return start + 1;
  if (unit === 'week') return start + 7;
  const [year, month] = yearAndMonth(start);
  return monthStart(year, month + MONTHS[unit]);
}

/** The same day some months before, or the last of that month where it has no such day. */
export function monthsBefore(date: DayNumber, months: number): DayNumber {
  const [year, month] = yearAndMonth(date);
  const dayOfMonth = date - monthStart(year, month);
  const start = monthStart(year, month - months);
  const next = monthStart(year, month - months + 1);
  return Math.min(start + dayOfMonth, next - 1);
}

const yearAndMonth = (date: DayNumber): [number, number] => {
  const [year, month] = dateText(date).split('-').map(Number);
  return [year, month];
};

/** Months count from 1 and may run over the year's end. */
const monthStart = (year: number, month: number): DayNumber => (Date.UTC(year, month - 1, 1) * 1000) / DAY;
