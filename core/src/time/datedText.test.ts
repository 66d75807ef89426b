import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from './calendar.js';
import type { DateOrder, Precision } from './datedText.js';
import { rfc3339 } from './rfc3339.js';
import { TimeReader } from './timeText.js';

const calendar = makeCalendar({ zone: 'UTC' });
const bytesOf = (text: string) => new TextEncoder().encode(text);

function read(text: string, order: DateOrder = 'day-first'): [string, Precision] | string {
  const reader = new TimeReader(calendar, order);
  const bytes = bytesOf(text);
  const instant = reader.read(bytes, 0, bytes.length);
  return Number.isNaN(instant) ? reader.reason : [rfc3339(instant), reader.precision];
}

const MONTHS = 'January February March April May June July August September October November December'.split(' ');
const two = (value: number) => String(value).padStart(2, '0');

interface Parts {
  y: number;
  m: number;
  d: number;
}
const dates: fc.Arbitrary<Parts> = fc
  .integer({ min: Date.UTC(1790, 0, 1) / 86_400_000, max: Date.UTC(2090, 0, 1) / 86_400_000 })
  .map((day) => new Date(day * 86_400_000))
  .map((date) => ({ y: date.getUTCFullYear(), m: date.getUTCMonth() + 1, d: date.getUTCDate() }));
const short = ({ m }: Parts) => MONTHS[m - 1].slice(0, 3);

/** Ways to write a whole day. Those that say a year in two digits hold for 1969 to 2068. */
const DAYS: [name: string, write: (parts: Parts) => string, years?: 'two'][] = [
  ['2026-01-05', ({ y, m, d }) => `${y}-${two(m)}-${two(d)}`],
  ['2026/1/5', ({ y, m, d }) => `${y}/${m}/${d}`],
  ['20260105', ({ y, m, d }) => `${y}${two(m)}${two(d)}`],
  ['05.01.2026', ({ y, m, d }) => `${two(d)}.${two(m)}.${y}`],
  ['5/1/26', ({ y, m, d }) => `${d}/${m}/${two(y % 100)}`, 'two'],
  ['Jan 5 2026', (parts) => `${short(parts)} ${parts.d} ${parts.y}`],
  ['Jan 5, 2026', (parts) => `${short(parts)} ${parts.d}, ${parts.y}`],
  ['January 5th, 2026', ({ y, m, d }) => `${MONTHS[m - 1]} ${d}th, ${y}`],
  ['5 January 2026', ({ y, m, d }) => `${d} ${MONTHS[m - 1]} ${y}`],
  ['05-JAN-26', (parts) => `${two(parts.d)}-${short(parts).toUpperCase()}-${two(parts.y % 100)}`, 'two'],
  ['2026-Jan-05', (parts) => `${parts.y}-${short(parts)}-${two(parts.d)}`],
  ['Monday, 5 Jan 2026', (parts) => `Monday, ${parts.d} ${short(parts)} ${parts.y}`],
];

/** Ways to write a time of day, and what it comes to. */
const CLOCKS: [text: string, clock: string][] = [
  ['09:30', '09:30:00'],
  ['9:30', '09:30:00'],
  ['09:30:15', '09:30:15'],
  ['09:30:15.250', '09:30:15.25'],
  ['9:30 AM', '09:30:00'],
  ['9:30:15 p.m.', '21:30:15'],
  ['12:05 AM', '00:05:00'],
  ['0930', '09:30:00'],
  ['093015', '09:30:15'],
  ['093015250', '09:30:15.25'],
  ['09:30 UTC', '09:30:00'],
  ['09:30:00 GMT', '09:30:00'],
  ['09:30:00Z', '09:30:00'],
  ['11:30:00 +0200', '09:30:00'],
  ['07:00:00-02:30', '09:30:00'],
];

describe('a time in words and figures', () => {
  it.each(DAYS)('a day as %s', (_, write, years) =>
    fc.assert(
      fc.property(dates, (parts) => {
        fc.pre(years === undefined || (parts.y >= 1969 && parts.y <= 2068));
        expect(read(write(parts))).toEqual([`${parts.y}-${two(parts.m)}-${two(parts.d)}T00:00:00Z`, 'day']);
      }),
      { numRuns: 40 },
    ),
  );

  it.each(CLOCKS)('a time of day as %s', (text, clock) => {
    const wanted = [`2026-01-05T${clock}Z`, 'moment'];
    for (const date of ['2026-01-05', '20260105', '5 Jan 2026', 'Mon, 5 Jan 2026', 'Jan 5, 2026'])
      expect(read(`${date} ${text}`), date).toEqual(wanted);
    const [date, time] = [bytesOf('05-Jan-2026'), bytesOf(text)];
    const reader = new TimeReader(calendar, 'day-first');
    expect([rfc3339(reader.readParts(date, 0, date.length, time, 0, time.length)), reader.precision]).toEqual(wanted);
  });

  it.each<[string, string, Precision]>([
    ['Mar 2019', '2019-03-01', 'month'],
    ['March 2019', '2019-03-01', 'month'],
    ['Jan-19', '2019-01-01', 'month'],
    ["Jan '19", '2019-01-01', 'month'],
    ['2019-03', '2019-03-01', 'month'],
    ['03/2019', '2019-03-01', 'month'],
    ['201903', '2019-03-01', 'month'],
    ['2019M03', '2019-03-01', 'month'],
    ['2020-Q1', '2020-01-01', 'quarter'],
    ['2020Q4', '2020-10-01', 'quarter'],
    ['Q2 2020', '2020-04-01', 'quarter'],
    ['3Q20', '2020-07-01', 'quarter'],
    ['1897', '1897-01-01', 'year'],
  ])('a longer stretch as %s begins with %s', (text, day, precision) =>
    expect(read(text)).toEqual([`${day}T00:00:00Z`, precision]),
  );

  it('is of the precision of the finest that was read', () => {
    const reader = new TimeReader(calendar, 'day-first');
    const precisions = ['2019', 'Q1 2020', 'Mar 2020', '2020-03-05', '2020-03-05 09:30'].map((text) => {
      const bytes = bytesOf(text);
      reader.read(bytes, 0, bytes.length);
      return reader.precision;
    });
    expect(precisions).toEqual(['year', 'quarter', 'month', 'day', 'moment']);
  });

  it.each([
    'soon',
    '31 Feb 2026',
    '2026-13-05',
    '5 Smarch 2026',
    '25:00',
    'Jan 5 2026 25:99',
    'Q5 2020',
    '84.20',
    '12',
  ])('is none: %s', (text) => expect(typeof read(text)).toBe('string'));

  it('never throws, whatever is written', () =>
    fc.assert(fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), (text) => void read(text))));
});
