import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PlainLines } from './plainLines.js';

/* The quick reader takes what it is sure of, and leaves the rest untouched. */

const COMMA = 44;

/** What is read of a text before the first line that is left to others, and that line. */
function take(text: string, columns = 3) {
  const bytes = new TextEncoder().encode(text);
  const view = new DataView(bytes.buffer);
  const lines = new PlainLines(COMMA, columns);
  const rows: number[][] = [];
  let at = 0;
  do {
    at = lines.read(bytes, view, at);
    for (let row = 0; row < lines.rows; row++) rows.push(lines.columns.map((column) => column[row]));
  } while (lines.rows > 0);
  return { rows, left: text.slice(at).split('\n')[0] };
}

/** Room after the lines that are meant: what lies near the end of the bytes might not be whole, and is left. */
const more = '\n'.repeat(200);
const instant = (text: string) => Date.parse(text) * 1000;

describe('plain lines', () => {
  it.each([
    ['2026-02-02T08:30:00.015Z,84.20,15', [instant('2026-02-02T08:30:00.015Z'), 84.2, 15]],
    ['2026-02-02 08:30:00Z,84.20,15', [instant('2026-02-02T08:30:00Z'), 84.2, 15]],
    ['2026-02-02T08:30:00.000001Z,84.20,15', [instant('2026-02-02T08:30:00Z') + 1, 84.2, 15]],
    ['1770021000,0.000001,123456789', [1770021000e6, 0.000001, 123456789]],
    ['1770021000123,1,1', [1770021000123e3, 1, 1]],
    ['1770021000123456,1,1', [1770021000123456, 1, 1]],
    ['1770021000,84.2,15\r', [1770021000e6, 84.2, 15]],
  ])('%s', (line, values) => expect(take(`${line}\n${more}`).rows).toEqual([values]));

  it.each([
    ['a date that is none', '2026-02-30T08:30:00Z,1,1'],
    ['an hour that is none', '2026-02-02T24:00:00Z,1,1'],
    ['a minute that is none', '2026-02-02T08:61:00Z,1,1'],
    ['a second that is none', '2026-02-02T08:30:60Z,1,1'],
    ['a time without its zone', '2026-02-02T08:30:00,1,1'],
    ['a time with an offset', '2026-02-02T08:30:00+01:00,1,1'],
    ['more than six places of a second', '2026-02-02T08:30:00.1234567Z,1,1'],
    ['a few digits, which are no epoch time', '12345678,1,1'],
    ['a price of 0', '1770021000,0,1'],
    ['a price below 0', '1770021000,-1,1'],
    ['an exponent', '1770021000,1e3,1'],
    ['a number of more digits than are sure', '1770021000,1234567890,1'],
    ['a missing field', '1770021000,1'],
    ['an empty one', '1770021000,,1'],
    ['a further one', '1770021000,1,1,1'],
    ['a quoted one', '1770021000,"1",1'],
    ['a space', '1770021000, 1,1'],
    ['an empty line', ''],
  ])('leave %s to others', (_, line) => {
    const taken = take(`1770021000,1,1\n${line}\n1770021001,1,1\n${more}`);
    expect(taken.rows.length).toBe(1);
    expect(taken.left).toBe(line);
  });

  it('are read as the language reads them, whatever the numbers', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            millis: fc.integer({ min: Date.parse('1975-01-01'), max: Date.parse('2200-01-01') }),
            price: fc.oneof(fc.integer({ min: 1, max: 999_999 }), fc.integer({ min: 1, max: 999_999_999 })),
            places: fc.integer({ min: 0, max: 8 }),
            size: fc.oneof(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 1, max: 999_999_999 })),
          }),
          { minLength: 1, maxLength: 1500 },
        ),
        (records) => {
          const priceText = ({ price, places }: (typeof records)[number]) => {
            const digits = String(price).padStart(places + 1, '0');
            return places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`;
          };
          const kept = records.filter((record) => priceText(record).length <= 10);
          const text = kept.map(
            (record) => `${new Date(record.millis).toISOString()},${priceText(record)},${record.size}`,
          );
          expect(take(`${text.join('\n')}\n${more}`).rows).toEqual(
            kept.map((record) => [record.millis * 1000, Number(priceText(record)), record.size]),
          );
        },
      ),
      { numRuns: 40 },
    ));

  it('are left to others or read rightly where any byte of them is another', () => {
    const line = '2026-02-02T08:30:07.015Z,104.25,115';
    const time = /^\d{4}-\d\d-\d\d[T ]\d\d:\d\d:\d\d(\.\d{1,6})?Z$/;
    const number = /^\d+(\.\d*)?$/;
    fc.assert(
      fc.property(fc.nat(line.length - 1), fc.integer({ min: 1, max: 126 }), (place, code) => {
        const changed = line.slice(0, place) + String.fromCharCode(code) + line.slice(place + 1);
        const { rows } = take(`${line}\n${changed}\n${more}`);
        if (rows.length < 2 || code === 10) return;
        const [at, ...numbers] = changed.replace(/\r$/, '').split(',');
        expect(at).toMatch(time);
        for (const text of numbers) expect(text).toMatch(number);
        expect(rows[1]).toEqual([instant(at), ...numbers.map(Number)]);
      }),
      { numRuns: 5000 },
    );
  });
});
