import { ArgumentError } from '../arguments.js';
import type { Calendar, TradingDay } from '../time/calendar.js';
import { DAY, HOUR, MINUTE, SECOND } from '../time/instant.js';
import type { PeriodUnit } from '../time/periods.js';
import type { TimedKind } from './barKind.js';
import { ClockIntervals, PeriodIntervals, type TimeIntervals } from './timeIntervals.js';

/** Units of intervals by their names. */
export const INTERVAL_UNITS: ReadonlyMap<string, number> = new Map([
  ['second', SECOND],
  ['minute', MINUTE],
  ['hour', HOUR],
]);

/** What tells one kind of bars by time from another. */
interface TimedKindEntry<Kind extends TimedKind> {
  /** As a bar rule says it: `15 minutes`. */
  print(kind: Kind): string;
  /** As a sentence says it: `15-minute`, `daily`. */
  phrase(kind: Kind): string;
  intervals(kind: Kind, calendar: Calendar, allHours: boolean): TimeIntervals;
  /** @throws {ArgumentError} where bars of some length cannot be put together to these */
  refuseFinerThan(kind: Kind, length: number): void;
  /** The usual length of a bar. */
  micros(kind: Kind): number;
  /** When a bar of the kind ends that a file tells only the start of. */
  endOf(kind: Kind, start: number, calendar: Calendar): number;
  /** Bars of a trading day. @param longest  a day that is not cut short */
  barsPerDay(kind: Kind, daysPerYear: number, longest: () => TradingDay): number;
}

const PERIODS: Record<PeriodUnit, { phrase: string; days: number; perYear: number }> = {
  day: { phrase: 'daily', days: 1, perYear: NaN },
  week: { phrase: 'weekly', days: 7, perYear: 365.2425 / 7 },
  month: { phrase: 'monthly', days: 30, perYear: 12 },
  quarter: { phrase: 'quarterly', days: 91, perYear: 4 },
  year: { phrase: 'yearly', days: 365, perYear: 1 },
};

const unitOf = ({ micros }: { micros: number }) => [...INTERVAL_UNITS].findLast(([, unit]) => micros % unit === 0)!;

const interval: TimedKindEntry<Extract<TimedKind, { by: 'interval' }>> = {
  print(kind) {
    const [name, unit] = unitOf(kind);
    const count = kind.micros / unit;
    return `${count} ${name}${count === 1 ? '' : 's'}`;
  },
  phrase(kind) {
    const [name, unit] = unitOf(kind);
    return `${kind.micros / unit}-${name}`;
  },
  intervals: ({ micros }, calendar, allHours) => new ClockIntervals(calendar, micros, allHours),
  refuseFinerThan({ micros }, length) {
    const minutes = (of: number) => `${of / MINUTE} minutes`;
    if (micros < length)
      throw new ArgumentError(
        'rule',
        `no finer than the records, which are bars of ${minutes(length)}`,
        minutes(micros),
      );
    if (micros % length !== 0)
      throw new ArgumentError('rule', `a whole multiple of the records' ${minutes(length)}`, minutes(micros));
  },
  micros: ({ micros }) => micros,
  endOf: ({ micros }, start) => start + micros,
  barsPerDay({ micros }, _, longest) {
    const { opensAt, closesAt } = longest();
    return Math.ceil((closesAt - opensAt) / micros);
  },
};

const period: TimedKindEntry<Extract<TimedKind, { by: 'period' }>> = {
  print: ({ unit }) => `1 ${unit}`,
  phrase: ({ unit }) => PERIODS[unit].phrase,
  intervals: ({ unit }, calendar, allHours) => new PeriodIntervals(calendar, unit, allHours),
  refuseFinerThan({ unit }, length) {
    if (unit === 'day' && length > DAY + HOUR)
      throw new ArgumentError('rule', 'no finer than the records, which are longer than a day', '1 day');
  },
  micros: ({ unit }) => PERIODS[unit].days * DAY,
  endOf: (_, start, calendar) => calendar.dayAt(start).closesAt,
  barsPerDay: ({ unit }, daysPerYear) => (unit === 'day' ? 1 : PERIODS[unit].perYear / daysPerYear),
};

/** All that is asked of a kind of bars by time. */
export const timedKind = <Kind extends TimedKind>(kind: Kind): TimedKindEntry<Kind> =>
  (kind.by === 'interval' ? interval : period) as unknown as TimedKindEntry<Kind>;
