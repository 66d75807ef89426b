import { periodNumber, rfc3339, type Calendar, type Instant, type Precision, type WallTime } from '@jaunty-ledger/core';

const UNITS = [
  ['day', 86_400e6],
  ['h', 3600e6],
  ['min', 60e6],
  ['s', 1e6],
] as const;

/** A stretch of time in its two largest units: `3 days 4 h`, `25 min`. */
export function stretchText(micros: number): string {
  const at = UNITS.findIndex(([, size]) => micros >= size);
  if (at < 0) return micros === 0 ? '0 s' : `${(micros / 1e6).toFixed(3)} s`;
  const parts: string[] = [];
  let rest = micros;
  for (const [unit, size] of UNITS.slice(at, at + 2)) {
    const count = Math.floor(rest / size);
    rest -= count * size;
    if (count > 0) parts.push(`${count} ${unit === 'day' && count > 1 ? 'days' : unit}`);
  }
  return parts.join(' ');
}

/** How far two dates of the wall clock lie apart, in the two largest of years, months and days: `2 years 3 months`. */
export function datesApartText(from: WallTime, to: WallTime): string {
  const [a, b] = [new Date(from / 1000), new Date(to / 1000)];
  let months = 12 * (b.getUTCFullYear() - a.getUTCFullYear()) + b.getUTCMonth() - a.getUTCMonth();
  const later = (count: number) => monthsAfter(a, count);
  while (months > 0 && later(months) > b.getTime()) months--;
  const days = Math.round((b.getTime() - later(months)) / 86_400e3);
  const counts: [number, string][] = [
    [Math.floor(months / 12), 'year'],
    [months % 12, 'month'],
    [days, 'day'],
  ];
  const said = counts.filter(([count]) => count > 0).slice(0, 2);
  return said.map(([count, unit]) => `${count} ${unit}${count === 1 ? '' : 's'}`).join(' ') || '0 days';
}

/** The same day so many months later, or the last of that month where it has no such day. */
function monthsAfter(date: Date, months: number): number {
  const [year, month] = [date.getUTCFullYear(), date.getUTCMonth() + months];
  const lastDay = new Date(Date.UTC(year, month + 1, 0)).getUTCDate();
  return Date.UTC(year, month, Math.min(date.getUTCDate(), lastDay)) + (date.getTime() % 86_400e3);
}

/** A moment in figures, as it can be typed too: `2026-02-02 08:30`, `2026-02-02`, `2026-02`, `2026`, or `7` of a period. */
export function momentFigures(at: Instant, calendar: Calendar, precision: Precision): string {
  if (precision === 'period') return String(periodNumber(at));
  const text = rfc3339(calendar.zone.wallAt(at));
  const lengths = { year: 4, quarter: 7, month: 7, day: 10, moment: 16 };
  return text.slice(0, lengths[precision]).replace('T', ' ');
}
