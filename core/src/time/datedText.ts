import { dayNumber, HOUR, MINUTE, SECOND, type DayNumber } from './instant.js';

/**
 * How exactly a time is told: a moment, or a whole day, month, quarter or year, which it then begins. A period is a plain
 * number without a date: period k is kept as day k since the epoch.
 */
export const PRECISIONS = ['moment', 'day', 'month', 'quarter', 'year', 'period'] as const;
export type Precision = (typeof PRECISIONS)[number];

/** Which part of a date that does not begin with its year comes first. */
export type DateOrder = 'year-first' | 'day-first' | 'month-first';

/** A time as it is written: a date, and the clock where there is one. */
export interface DatedText {
  day: DayNumber;
  precision: Precision;
  /** Microseconds since midnight. */
  clock: number;
  /** Microseconds that its clock is ahead of UTC; nothing where that is not told. */
  offset: number | undefined;
}

const MONTHS = 'jan feb mar apr may jun jul aug sep oct nov dec'.split(' ');
const MONTH = '(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\\.?';
const WEEKDAY = /^(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+/;
const ZONE = '(?:z|utc|gmt|(?:utc|gmt)?([+-])(\\d{2}):?(\\d{2})?)';
const CLOCK = new RegExp(
  `(?:^|[t\\s])(\\d{1,2}):(\\d{2})(?::(\\d{2})(?:[.,](\\d+))?)?\\s*([ap])?(?:\\.?m\\.?)?\\s*(${ZONE})?$`,
);
const COMPACT_CLOCK = new RegExp(
  `(?:^|[t\\s])(\\d{2})(\\d{2})(\\d{2})?[.]?(\\d{3,6})?\\s*([ap])?(?:\\.?m\\.?)?\\s*(${ZONE})?$`,
);

type DateForm = readonly [pattern: RegExp, read: (found: string[], order: DateOrder) => [string, Precision]];

const two = (text: string | number): string => String(text).padStart(2, '0');
/** Of two digits: from 69 on of the last century, as is usual. */
const fullYear = (text: string): string =>
  text.length > 2 ? text : String(Number(text) + (Number(text) < 69 ? 2000 : 1900));
const monthOf = (word: string): string => two(MONTHS.indexOf(word.slice(0, 3)) + 1);
const date = (year: string, month: string, day: string): [string, Precision] => [
  `${fullYear(year)}-${two(month)}-${two(day)}`,
  'day',
];
const month = (year: string, of: string): [string, Precision] => [`${fullYear(year)}-${two(of)}-01`, 'month'];
const quarter = (year: string, of: string): [string, Precision] => [
  `${fullYear(year)}-${two(3 * Number(of) - 2)}-01`,
  'quarter',
];
const form = (pattern: string) => new RegExp(`^${pattern}$`);

/** Dates as files write them, in lower case, beside those that begin with four digits and two marks. */
const FORMS: readonly DateForm[] = [
  [form('(\\d{4})[-/. ](\\d{1,2})[-/. ](\\d{1,2})'), ([y, m, d]) => date(y, m, d)],
  [form('(\\d{4})(\\d{2})(\\d{2})'), ([y, m, d]) => date(y, m, d)],
  [
    form('(\\d{1,2})[-/. ](\\d{1,2})[-/. ](\\d{4}|\\d{2})'),
    ([a, b, y], order) => (order === 'month-first' ? date(y, a, b) : date(y, b, a)),
  ],
  [form(`(\\d{1,2})(?:st|nd|rd|th)?[-/. ]*${MONTH}[-/. ]*(\\d{4}|\\d{2})`), ([d, m, y]) => date(y, monthOf(m), d)],
  [form(`${MONTH}[-/. ]+(\\d{1,2})(?:st|nd|rd|th)?[-/. ]+(\\d{4}|\\d{2})`), ([m, d, y]) => date(y, monthOf(m), d)],
  [form(`(\\d{4})[-/. ]*${MONTH}[-/. ]*(\\d{1,2})`), ([y, m, d]) => date(y, monthOf(m), d)],
  [form(`${MONTH}[-/. ']*(\\d{4}|\\d{2})`), ([m, y]) => month(y, monthOf(m))],
  [form(`(\\d{4})[-/. ]*${MONTH}`), ([y, m]) => month(y, monthOf(m))],
  [form('(\\d{4})[-/](\\d{1,2})'), ([y, m]) => month(y, m)],
  [form('(\\d{4})m(\\d{1,2})'), ([y, m]) => month(y, m)],
  [form('(\\d{1,2})[-/](\\d{4})'), ([m, y]) => month(y, m)],
  [form('((?:1[5-9]|20)\\d{2})(0[1-9]|1[0-2])'), ([y, m]) => month(y, m)],
  [form('(\\d{4})[-/. ]*q([1-4])'), ([y, q]) => quarter(y, q)],
  [form("q([1-4])[-/. ']*(\\d{4}|\\d{2})"), ([q, y]) => quarter(y, q)],
  [form("([1-4])q[-/. ']*(\\d{4}|\\d{2})"), ([q, y]) => quarter(y, q)],
  [form('((?:1[5-9]|20)\\d{2})'), ([y]) => [`${y}-01-01`, 'year']],
];

/**
 * Reads a time in any usual way of writing it, from text. Slower than reading bytes: for what `TimeReader` does not know.
 * @returns nothing where it is no time
 */
export function readDatedText(written: string, order: DateOrder): DatedText | undefined {
  const text = written
    .toLowerCase()
    .replaceAll(/["']|(?<=\D),|,(?=\s|\D)/g, ' ')
    .replaceAll(/\s+/g, ' ')
    .trim()
    .replace(WEEKDAY, '');
  const whole = readDate(text, order);
  if (whole) return { ...whole, clock: 0, offset: undefined };
  const found = CLOCK.exec(text) ?? COMPACT_CLOCK.exec(text);
  if (!found) return undefined;
  const day = readDate(text.slice(0, found.index).trim(), order);
  const clock = readClockText(text.slice(found.index).replace(/^t/, ' ').trim());
  return day?.precision === 'day' && clock ? { ...day, precision: 'moment', ...clock } : undefined;
}

function readDate(text: string, order: DateOrder): Pick<DatedText, 'day' | 'precision'> | undefined {
  for (const [pattern, read] of FORMS) {
    const found = pattern.exec(text);
    if (!found) continue;
    const [iso, precision] = read(found.slice(1), order);
    const day = dayNumber(iso);
    return Number.isNaN(day) ? undefined : { day, precision };
  }
  return undefined;
}

/** Reads a time of day: `09:30`, `9:30:00.5 PM`, `0930`, `0930 AM`, `093000123`, with `UTC` or an offset behind it. */
export function readClockText(written: string): Pick<DatedText, 'clock' | 'offset'> | undefined {
  const text = written.toLowerCase().trim();
  const found = CLOCK.exec(text) ?? COMPACT_CLOCK.exec(text);
  if (!found || found.index > 0) return undefined;
  const [, hours, minutes, seconds = '0', fraction = '', half, zone, sign, zoneHours, zoneMinutes] = found;
  let hour = Number(hours);
  if (half !== undefined) {
    if (hour < 1 || hour > 12) return undefined;
    hour = (hour % 12) + (half === 'p' ? 12 : 0);
  }
  if (hour > 24 || Number(minutes) > 59 || Number(seconds) > 60) return undefined;
  const micros = Number(fraction.slice(0, 6).padEnd(6, '0'));
  const clock = hour * HOUR + Number(minutes) * MINUTE + Number(seconds) * SECOND + micros;
  if (Number(zoneHours ?? 0) > 23 || Number(zoneMinutes ?? 0) > 59) return undefined;
  const ahead = Number(zoneHours ?? 0) * HOUR + Number(zoneMinutes ?? 0) * MINUTE;
  return { clock, offset: zone !== undefined ? (sign === '-' ? -ahead : ahead) : undefined };
}
