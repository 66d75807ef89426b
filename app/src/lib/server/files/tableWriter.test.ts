import fc from 'fast-check';
import { parquetReadObjects } from 'hyparquet';
import { describe, expect, it } from 'vitest';
import { fromArrow, INSTANTS, type ColumnTable } from '$lib/arrow/table';
import { instantOf } from '$lib/api/times';
import { writeTable } from './tableWriter';

/* Figures that are handed out read back as the same doubles, and what is missing as missing. */

const double = fc.oneof({ weight: 5, arbitrary: fc.double({ noDefaultInfinity: true }) }, fc.constant(NaN));
const WORDS = ['North Quay', 'a "b", c', ''];
const table: fc.Arbitrary<ColumnTable> = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 4e15 }), double, double, fc.constantFrom(0, 1, 2, NaN)), {
    minLength: 1,
    maxLength: 40,
  })
  .map((rows) => ({
    columns: {
      time: Float64Array.from(rows, ([time]) => time),
      close: Float64Array.from(rows, ([, close]) => close),
      'a, "b"': Float64Array.from(rows, ([, , other]) => other),
      berth: Float64Array.from(rows, ([, , , word]) => word),
    },
    instants: INSTANTS,
    words: { berth: WORDS },
  }));
const wordsOf = ({ columns }: ColumnTable) => Array.from(columns.berth, (code) => WORDS[code] ?? null);
const textOf = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
const same = (got: number, wanted: number) => Object.is(got, wanted) || (got === 0 && wanted === 0);

describe('a table as', () => {
  it('CSV: a header, times in UTC, an empty field for what is missing', () =>
    fc.assert(
      fc.property(table, (given) => {
        const [head, ...lines] = textOf(writeTable(given, 'csv', {}))
          .trimEnd()
          .split('\n');
        expect(head).toBe('time,close,"a, ""b""",berth');
        lines.forEach((line, row) => {
          const [time, close, other, ...berth] = line.split(',');
          expect(berth.join()).toBe(['North Quay', '"a ""b"", c"', ''][given.columns.berth[row]] ?? '');
          expect(instantOf(time)).toBe(given.columns.time[row]);
          const numbers = [close, other].map((text) => (text === '' ? NaN : Number(text)));
          expect(same(numbers[0], given.columns.close[row])).toBe(true);
          expect(same(numbers[1], given.columns['a, "b"'][row])).toBe(true);
        });
      }),
    ));

  it('lines of JSON: an object a row, null for what is missing', () =>
    fc.assert(
      fc.property(table, (given) => {
        const lines = textOf(writeTable(given, 'ndjson', {}))
          .trimEnd()
          .split('\n');
        lines.forEach((line, row) => {
          const { time, close, berth } = JSON.parse(line) as Record<string, string> & { close: number | null };
          expect(berth).toBe(wordsOf(given)[row]);
          expect(instantOf(time)).toBe(given.columns.time[row]);
          expect(same(close ?? NaN, given.columns.close[row])).toBe(true);
        });
      }),
    ));

  it('JSON: columns, and what is said beside them', () => {
    const given = { columns: { time: Float64Array.of(0), close: Float64Array.of(NaN) }, instants: INSTANTS };
    expect(JSON.parse(textOf(writeTable(given, 'json', { tape: 'KELP' })))).toEqual({
      tape: 'KELP',
      columns: { time: ['1970-01-01T00:00:00Z'], close: [null] },
    });
  });

  it('Arrow: the same columns bit for bit', () =>
    fc.assert(
      fc.property(table, (given) => {
        expect(fromArrow(writeTable(given, 'arrow', {}))).toEqual({ ...given, instants: ['time'] });
      }),
    ));

  it('Parquet: timestamps to the microsecond, doubles and nulls', () =>
    fc.assert(
      fc.asyncProperty(table, async (given) => {
        const { buffer } = writeTable(given, 'parquet', {}).slice();
        const rows = await parquetReadObjects({ file: buffer, parsers: { timestampFromMicroseconds: Number } });
        rows.forEach(({ time, close, berth }, row) => {
          expect(berth ?? null).toBe(wordsOf(given)[row]);
          expect(time).toBe(given.columns.time[row]);
          expect(same((close as number | null) ?? NaN, given.columns.close[row])).toBe(true);
        });
      }),
      { numRuns: 30 },
    ));
});
