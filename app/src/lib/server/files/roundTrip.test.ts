import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ImportQuery } from '$lib/api/tapes';
import { INSTANTS, type ColumnTable } from '$lib/arrow/table';
import { decodeChunk, type RecordColumns } from '../chunks/tapeChunk';
import { openStore, type Store } from '../store/connection';
import { chunksBetween } from '../store/chunks';
import { findTape } from '../store/tapes';
import { appendImport } from './appendImport';
import { FileImport } from './fileImport';
import { TABLE_FORMATS, writeTable } from './tableWriter';

/* What the book hands out it takes in again, to the last digit; and what comes in two files is as if it came in one. */

let folder: string;
let db: Store;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-round-'));
  db = await openStore(folder);
});
afterAll(async () => {
  await db.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const NOW = Date.parse('2100-01-01T00:00Z') * 1000;
let tapes = 0;

/** Reads a file to its end, and gives it to whoever enters or appends it. */
async function imported<T>(bytes: Uint8Array, name: string, act: (file: FileImport) => Promise<T>): Promise<T> {
  const query = ImportQuery.parse({ name, zone: 'UTC' });
  const file = new FileImport(folder, query, {}, NOW);
  try {
    await file.read(
      (async function* () {
        for (let from = 0; from < bytes.length; from += 4096) yield bytes.slice(from, from + 4096);
      })(),
      () => undefined,
    );
    return await act(file);
  } finally {
    await file.close();
  }
}

async function stored(name: string): Promise<RecordColumns> {
  const tape = (await findTape(db, name))!;
  const parts: RecordColumns[] = [];
  for await (const chunk of chunksBetween(db, tape.id, -Infinity, Infinity)) parts.push(decodeChunk(chunk));
  const whole = (column: string) => Float64Array.from(parts.flatMap((part) => [...part[column]]));
  return Object.fromEntries(Object.keys(parts[0]).map((column) => [column, whole(column)])) as RecordColumns;
}

/** Trades whose instants rise, to the microsecond; prices and sizes of any digits. */
const trades = fc
  .array(
    fc.tuple(
      fc.integer({ min: 1, max: 5e9 }),
      fc.double({ min: 1e-6, max: 1e9, noNaN: true }),
      fc.double({ min: 1e-6, max: 1e6, noNaN: true }),
    ),
    { minLength: 3, maxLength: 60 },
  )
  .map((rows): ColumnTable => {
    let time = Date.parse('2026-02-02T08:30:00Z') * 1000;
    return {
      columns: {
        time: Float64Array.from(rows, ([step]) => (time += step)),
        price: Float64Array.from(rows, ([, price]) => price),
        size: Float64Array.from(rows, ([, , size]) => size),
      },
      instants: INSTANTS,
    };
  });

// JSON holds columns, not records: it is for programs that ask, not for files
const formats = Object.values(TABLE_FORMATS).filter((format) => format !== 'json');

describe.each(formats)('records handed out as %s', (format) => {
  it('come in again as they were', () =>
    fc.assert(
      fc.asyncProperty(trades, async (table) => {
        const name = `T${tapes++}`;
        await imported(writeTable(table, format, {}), name, (file) => file.enter(db, { bytes: 0, sha256: '' }));
        const { time, price, size } = await stored(name);
        expect({ time, price, size }).toEqual(table.columns);
      }),
      { numRuns: 15 },
    ));
});

describe('a further file of a tape', () => {
  it('whose records overlap doubles none of them, and all are in order of time', () =>
    fc.assert(
      fc.asyncProperty(trades, fc.nat(), fc.nat(), async (table, cut, overlap) => {
        const rows = table.columns.time.length;
        const end = 1 + (cut % rows);
        const from = Math.max(0, end - (overlap % rows));
        const part = (first: number, last: number): ColumnTable => ({
          ...table,
          columns: Object.fromEntries(
            Object.entries(table.columns).map(([column, values]) => [column, values.slice(first, last)]),
          ),
        });
        const name = `T${tapes++}`;
        await imported(writeTable(part(0, end), 'csv', {}), name, (file) => file.enter(db, { bytes: 0, sha256: '' }));
        if (from < rows)
          await imported(writeTable(part(from, rows), 'csv', {}), name, (file) =>
            appendImport(db, file, name, { bytes: 0, sha256: '' }),
          );
        const { time, price, size } = await stored(name);
        expect({ time, price, size }).toEqual(table.columns);
        const tape = (await findTape(db, name))!;
        expect([tape.rows, tape.lastAt]).toEqual([rows, table.columns.time[rows - 1]]);
        expect(tape.spark.length).toBe(Math.min(60, rows));
        expect(tape.spark.at(-1)).toBe(table.columns.price[rows - 1]);
      }),
      { numRuns: 25 },
    ));

  it('of other columns is refused, and the tape stays as it was', async () => {
    const name = `T${tapes++}`;
    const csv = (text: string) => new TextEncoder().encode(text);
    await imported(csv('time,price,size\n1770021000,1,1\n1770021001,2,1\n'), name, (file) =>
      file.enter(db, { bytes: 0, sha256: '' }),
    );
    const before = await stored(name);
    await expect(
      imported(csv('time,bid,ask\n1770021002,1,2\n'), name, (file) =>
        appendImport(db, file, name, { bytes: 0, sha256: '' }),
      ),
    ).rejects.toThrow(/holds time, price, size; the file has time, bid, ask/);
    expect(await stored(name)).toEqual(before);
  });
});
