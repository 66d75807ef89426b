import fc from 'fast-check';
import { parquetReadObjects } from 'hyparquet';
import { describe, expect, it } from 'vitest';
import { fromArrow, type Table } from './table.js';
import { instantOf } from '@jaunty-ledger/core';
import { TABLE_FORMATS, writeTable } from './tableWriter.js';

/* Figures that are handed out read back as the same doubles, and what is missing as missing. */

const double = fc.oneof({ weight: 5, arbitrary: fc.double({ noDefaultInfinity: true }) }, fc.constant(NaN));
const WORDS = ['North Quay', 'a "b", c', '', '=1+1', 'a\rb'];
const columns = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 4e15 }), double, double, fc.constantFrom(0, 1, 2, 3, 4, NaN)), {
    minLength: 1,
    maxLength: 40,
  })
  .map((rows) => ({
    time: Float64Array.from(rows, ([time]) => time),
    close: Float64Array.from(rows, ([, close]) => close),
    other: Float64Array.from(rows, ([, , other]) => other),
    berth: Float64Array.from(rows, ([, , , word]) => word),
  }));
type Columns = typeof columns extends fc.Arbitrary<infer T> ? T : never;
const tableOf = ({ time, close, other, berth }: Columns): Table => [
  { name: 'time', kind: 'instants', values: time },
  { name: 'close', kind: 'numbers', values: close },
  { name: 'a, "b"', kind: 'numbers', values: other },
  { name: 'berth', kind: 'words', values: berth, words: WORDS },
];
const wordsOf = ({ berth }: Columns) => Array.from(berth, (code) => WORDS[code] ?? null);
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const same = (got: number, wanted: number) => Object.is(got, wanted) || (got === 0 && wanted === 0);

describe('a table as', () => {
  it('CSV: a header, times in UTC, an empty field for what is missing', () =>
    fc.assert(
      fc.property(columns, (given) => {
        const [head, ...lines] = textOf(writeTable(tableOf(given), { format: 'csv' }))
          .trimEnd()
          .split('\n');
        expect(head).toBe('time,close,"a, ""b""",berth');
        lines.forEach((line, row) => {
          const [time, close, other, ...berth] = line.split(',');
          const wanted = ['North Quay', '"a ""b"", c"', '', '=1+1', '"a\rb"'][given.berth[row]] ?? '';
          expect(berth.join()).toBe(wanted);
          expect(instantOf(time)).toBe(given.time[row]);
          const numbers = [close, other].map((text) => (text === '' ? NaN : Number(text)));
          expect(same(numbers[0], given.close[row])).toBe(true);
          expect(same(numbers[1], given.other[row])).toBe(true);
        });
      }),
    ));

  it('CSV for a spreadsheet: no word that it would run, and numbers as they are', () => {
    const words = ['=1+1', '+1', '-x', '@cmd', '\tx', 'plain'];
    const table: Table = [
      { name: '=head', kind: 'words', values: Float64Array.from(words.keys()), words },
      { name: 'x', kind: 'numbers', values: new Float64Array(words.length).fill(-1) },
    ];
    const lines = textOf(writeTable(table, { format: 'csv', forSpreadsheet: true }))
      .trimEnd()
      .split('\n');
    expect(lines).toEqual(["'=head,x", "'=1+1,-1", "'+1,-1", "'-x,-1", "'@cmd,-1", "'\tx,-1", 'plain,-1']);
  });

  it('lines of JSON: an object a row, null for what is missing', () =>
    fc.assert(
      fc.property(columns, (given) => {
        const lines = textOf(writeTable(tableOf(given), { format: 'ndjson' }))
          .trimEnd()
          .split('\n');
        lines.forEach((line, row) => {
          const { time, close, berth } = JSON.parse(line) as Record<string, string> & { close: number | null };
          expect(berth).toBe(wordsOf(given)[row]);
          expect(instantOf(time)).toBe(given.time[row]);
          expect(same(close ?? NaN, given.close[row])).toBe(true);
        });
      }),
    ));

  it('JSON: columns, and what is said beside them', () => {
    const given: Table = [
      { name: 'time', kind: 'instants', values: Float64Array.of(0) },
      { name: '__proto__', kind: 'numbers', values: Float64Array.of(NaN) },
    ];
    expect(textOf(writeTable(given, { format: 'json', about: { tape: 'KELP' } }))).toBe(
      '{"tape":"KELP","columns":{"time":["1970-01-01T00:00:00Z"],"__proto__":[null]}}',
    );
    expect(textOf(writeTable([], { format: 'json', about: { tape: 'KELP' } }))).toBe('{"tape":"KELP","columns":{}}');
  });

  it('Arrow: the same columns bit for bit', () =>
    fc.assert(
      fc.property(columns, (given) => {
        expect(fromArrow(writeTable(tableOf(given), { format: 'arrow' }))).toEqual(tableOf(given));
      }),
    ));

  it('Parquet: timestamps to the microsecond, doubles and nulls', () =>
    fc.assert(
      fc.asyncProperty(columns, async (given) => {
        const { buffer } = writeTable(tableOf(given), { format: 'parquet' }).slice();
        const rows = await parquetReadObjects({ file: buffer, parsers: { timestampFromMicroseconds: Number } });
        rows.forEach(({ time, close, berth }, row) => {
          expect(berth ?? null).toBe(wordsOf(given)[row]);
          expect(time).toBe(given.time[row]);
          expect(same((close as number | null) ?? NaN, given.close[row])).toBe(true);
        });
      }),
      { numRuns: 30 },
    ));

  it.each(Object.values(TABLE_FORMATS))('%s: whoever waits for a long one can stop it', (format) => {
    const rows = 200_000;
    const table: Table = [{ name: 'x', kind: 'numbers', values: new Float64Array(rows) }];
    let calls = 0;
    const goOn = () => {
      if (++calls > 1) throw new Error('stopped');
    };
    const write = () => writeTable([...table, { ...table[0], name: 'y' }], { format, goOn });
    if (format === 'arrow')
      expect(write().length).toBeGreaterThan(rows); // it is a copy, and done at once
    else expect(write).toThrow('stopped');
  });
});
