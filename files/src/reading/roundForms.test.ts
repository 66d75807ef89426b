import fc from 'fast-check';
import { expect, it } from 'vitest';
import { previewReading } from './previewReading';

/* Rows that are written in some form come back as they were, without a choice, or it is asked. */

const LIMITS = { uploadMegabytes: 100, growth: 200, columns: 256, words: 10_000 };
const MONTHS = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');
const two = (value: number) => String(value).padStart(2, '0');

type DateForm = (year: number, month: number, day: number) => string;
const DATES: Record<string, DateForm> = {
  iso: (y, m, d) => `${y}-${two(m)}-${two(d)}`,
  bare: (y, m, d) => `${y}${two(m)}${two(d)}`,
  points: (y, m, d) => `${two(d)}.${two(m)}.${y}`,
  dayFirst: (y, m, d) => `${two(d)}/${two(m)}/${y}`,
  monthFirst: (y, m, d) => `${m}/${d}/${y}`,
  words: (y, m, d) => `${d} ${MONTHS[m - 1]} ${y}`,
  short: (y, m, d) => `${two(d)}-${MONTHS[m - 1].toUpperCase()}-${two(y % 100)}`,
};
const CLOCKS: Record<string, (minutes: number) => string> = {
  colons: (minutes) => `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}:00`,
  short: (minutes) => `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`,
  half: (minutes) => {
    const hour = Math.floor(minutes / 60);
    return `${hour % 12 || 12}:${two(minutes % 60)} ${hour < 12 ? 'AM' : 'PM'}`;
  },
};
const NUMBERS: Record<string, (cents: number) => string> = {
  plain: (cents) => (cents / 100).toFixed(2),
  comma: (cents) => (cents / 100).toFixed(2).replace('.', ','),
  currency: (cents) => `$${(cents / 100).toFixed(2)}`,
};

/** Trades a day or a few minutes apart, and how they are written. */
const files = fc.record({
  start: fc.integer({ min: Date.UTC(1995, 0, 1) / 86_400_000, max: Date.UTC(2030, 0, 1) / 86_400_000 }),
  rows: fc.array(
    fc.record({
      later: fc.integer({ min: 1, max: 4000 }),
      cents: fc.integer({ min: 101, max: 99_999 }),
      size: fc.integer({ min: 1, max: 900 }),
    }),
    { minLength: 3, maxLength: 12 },
  ),
  date: fc.constantFrom(...Object.keys(DATES)),
  clock: fc.constantFrom(...Object.keys(CLOCKS)),
  number: fc.constantFrom(...Object.keys(NUMBERS)),
  delimiter: fc.constantFrom(',', ';', '\t', '|'),
  apart: fc.boolean(),
  notes: fc.constantFrom('', '# made up\n', 'Tarn Harbour Exchange\n\n'),
  ending: fc.constantFrom('\n', '\r\n'),
});

it('trades in a random form are read as they were, or the order of their dates is asked', () =>
  fc.assert(
    fc.asyncProperty(files, async ({ start, rows, date, clock, number, delimiter, apart, notes, ending }) => {
      fc.pre(!(number === 'comma' && delimiter === ','));
      let minutes = start * 1440;
      const wanted: string[][] = [];
      const lines = rows.map(({ later, cents, size }) => {
        minutes += later;
        const at = new Date(minutes * 60_000);
        const day = DATES[date](at.getUTCFullYear(), at.getUTCMonth() + 1, at.getUTCDate());
        const time = CLOCKS[clock](at.getUTCHours() * 60 + at.getUTCMinutes());
        wanted.push([at.toISOString().replace('.000Z', 'Z'), String(cents / 100), String(size)]);
        return [...(apart ? [day, time] : [`${day} ${time}`]), NUMBERS[number](cents), size].join(delimiter);
      });
      const header = [...(apart ? ['date', 'clock'] : ['time']), 'price', 'size'].join(delimiter);
      const text = `${notes}${[header, ...lines, ''].join(ending)}`;
      const input = {
        head: new TextEncoder().encode(text),
        tail: new Uint8Array(0),
        choices: {},
        calendar: { zone: 'UTC' },
      };
      const { first, open, reading } = await previewReading(input, async () => undefined, LIMITS);
      if (open.length > 0) return void expect(['dayFirst', 'monthFirst']).toContain(date);
      expect(reading.kind).toBe('ticks');
      expect(first.map(({ read }) => read)).toEqual(wanted.slice(0, 6));
    }),
    { numRuns: 400 },
  ));
