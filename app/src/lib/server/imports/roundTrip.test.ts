import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ImportQuery } from '$lib/api/tapes';
import type { Table } from '@jaunty-ledger/files/tables/table';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { decodeChunk } from '../chunks/tapeChunk';
import { TABLE_FORMATS, writeTable } from '@jaunty-ledger/files/tables/tableWriter';
import { readLimits } from '../limits';
import { chunksBetween } from '../store/chunks';
import { holdStore, type HeldStore } from '../store/openStore';
import type { Store } from '../store/store';
import { findTape } from '../store/tapes';
import { enterFile } from './enterFile';
import type { Entering } from './importProtocol';
import { FileImport } from './fileImport';

/* What the book hands out it takes in again, to the last digit; and what comes in two files is as if it came in one. */

let folder: string;
let held: HeldStore;
let store: Store;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-round-'));
  held = await holdStore(`sqlite:${folder}`);
  store = held.store;
});
afterAll(async () => {
  await held.release();
  rmSync(folder, { recursive: true, force: true });
});

const NOW = Date.parse('2100-01-01T00:00Z') * 1000;
let tapes = 0;

/** Reads a file to its end, and enters it as a tape, or adds it to one. */
async function imported(bytes: Uint8Array, entering: Entering, name: string, more = {}): Promise<void> {
  const query = ImportQuery.parse({ name, zone: 'UTC', ...more });
  const file = new FileImport(folder, query, {}, NOW, readLimits({}));
  try {
    await file.read(
      (async function* () {
        for (let from = 0; from < bytes.length; from += 4096) yield bytes.slice(from, from + 4096);
      })(),
      () => undefined,
    );
    await enterFile(store, file, { bytes: 0, sha256: '' }, { entering });
  } finally {
    await file.close();
  }
}

const tapeOf = async (name: string) => (await store.read((rows) => findTape(rows, name)))!;

async function stored(name: string): Promise<RecordColumns> {
  const parts: RecordColumns[] = [];
  for await (const chunk of chunksBetween(store, await tapeOf(name), -Infinity, Infinity))
    parts.push(decodeChunk(chunk));
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
  .map((rows): Table => {
    let time = Date.parse('2026-02-02T08:30:00Z') * 1000;
    return [
      { name: 'time', kind: 'instants', values: Float64Array.from(rows, ([step]) => (time += step)) },
      { name: 'price', kind: 'numbers', values: Float64Array.from(rows, ([, price]) => price) },
      { name: 'size', kind: 'numbers', values: Float64Array.from(rows, ([, , size]) => size) },
    ];
  });
const columnsOf = (table: Table) => Object.fromEntries(table.map(({ name, values }) => [name, values]));
const part = (table: Table, first: number, last: number): Table =>
  table.map((column) => ({ ...column, values: column.values.slice(first, last) }) as Table[number]);
const csv = (table: Table) => writeTable(table, { format: 'csv' });
const text = (lines: string) => new TextEncoder().encode(lines);

// JSON holds columns, not records: it is for programs that ask, not for files
const formats = Object.values(TABLE_FORMATS).filter((format) => format !== 'json');

describe.each(formats)('records handed out as %s', (format) => {
  it('come in again as they were', () =>
    fc.assert(
      fc.asyncProperty(trades, async (table) => {
        const name = `T${tapes++}`;
        await imported(writeTable(table, { format }), 'new', name);
        const { time, price, size } = await stored(name);
        expect({ time, price, size }).toEqual(columnsOf(table));
      }),
      { numRuns: 15 },
    ));
});

describe('a further file of a tape', () => {
  it('whose records overlap doubles none of them, and all are in order of time', () =>
    fc.assert(
      fc.asyncProperty(trades, fc.nat(), fc.nat(), async (table, cut, overlap) => {
        const { time: times, price: prices } = columnsOf(table);
        const rows = times.length;
        const end = 1 + (cut % rows);
        const from = Math.max(0, end - (overlap % rows));
        const name = `T${tapes++}`;
        await imported(csv(part(table, 0, end)), 'new', name);
        if (from < rows) await imported(csv(part(table, from, rows)), 'append', name);
        const { time, price, size } = await stored(name);
        expect({ time, price, size }).toEqual(columnsOf(table));
        const tape = await tapeOf(name);
        expect([tape.rows, tape.lastAt]).toEqual([rows, times[rows - 1]]);
        expect(tape.spark.length).toBe(Math.min(60, rows));
        expect(tape.spark.at(-1)).toBe(prices[rows - 1]);
      }),
      { numRuns: 25 },
    ));

  it('goes before, behind or between the records that there are, and leaves the other parts as they were', () =>
    fc.assert(
      fc.asyncProperty(trades, fc.nat(), fc.nat(), async (table, a, b) => {
        const rows = columnsOf(table).time.length;
        const [from, to] = [a % (rows + 1), b % (rows + 1)].sort((x, y) => x - y);
        fc.pre(to > from && to - from < rows);
        const name = `T${tapes++}`;
        const outer = table.map((column) => {
          const kept = [...column.values].filter((_, row) => row < from || row >= to);
          return { ...column, values: Float64Array.from(kept) } as Table[number];
        });
        await imported(csv(outer), 'new', name);
        await imported(csv(part(table, from, to)), 'append', name);
        const { time, price, size } = await stored(name);
        expect({ time, price, size }).toEqual(columnsOf(table));
      }),
      { numRuns: 25 },
    ));

  it('of other columns is refused, and the tape stays as it was', async () => {
    const name = `T${tapes++}`;
    await imported(text('time,price,size\n1770021000,1,1\n1770021001,2,1\n'), 'new', name);
    const before = await stored(name);
    await expect(imported(text('time,bid,ask\n1770021002,1,2\n'), 'append', name)).rejects.toThrow(
      /holds time, price, size; the file has time, bid, ask/,
    );
    expect(await stored(name)).toEqual(before);
  });

  it('of bars of another length is refused, unless it is told to be of that length', async () => {
    const name = `T${tapes++}`;
    const bars = (step: number) =>
      text(`time,open,high,low,close\n${[1, 2, 3].map((i) => `${1770021000 + i * step},1,2,1,2`).join('\n')}\n`);
    await imported(bars(60), 'new', name);
    await expect(imported(bars(3600), 'append', name)).rejects.toThrow(
      /holds bars of 1 minute; those of the file are of 1 hour/,
    );
    await imported(bars(3600), 'append', name, { interval: '1 minute' });
    expect(await tapeOf(name)).toMatchObject({ rows: 6, interval: '1 minute' });
  });

  it('of times that are told otherwise is refused', async () => {
    const name = `T${tapes++}`;
    await imported(text('month,index\n2025-11,1\n2025-12,2\n'), 'new', name);
    await expect(imported(text('date,index\n2026-01-05,1\n2026-01-06,1\n'), 'append', name)).rejects.toThrow(
      /told by the month, those of the file by the day/,
    );
  });

  it('that is read by other hours is refused', async () => {
    const name = `T${tapes++}`;
    const file = text('time,price\n1770021000,1\n1770021001,2\n');
    await imported(file, 'new', name, { session: '08:30-16:30' });
    await expect(imported(file, 'append', name, { session: '09:00-17:00' })).rejects.toThrow(
      /has another zone or other hours \(UTC 08:30-16:30\) than the file is read by \(UTC 09:00-17:00\)/,
    );
  });

  it('of several instruments joins those that are there, makes the others, and all or nothing of it', async () => {
    const file = (rows: string[]) =>
      text(`time,instrument,price\n${rows.map((row, at) => `177002100${at},${row}`).join('\n')}\n`);
    const [a, b, c] = [`A${tapes}`, `B${tapes}`, `C${tapes++}`];
    await imported(file([`${a},1`, `${b},2`]), 'new', 'ignored');
    await imported(file([`${a},1`, `${b},2`, `${a},3`, `${c},4`]), 'join', 'ignored');
    expect(await Promise.all([a, b, c].map(async (name) => (await tapeOf(name)).rows))).toEqual([2, 1, 1]);
    await imported(text('time,bid,ask\n1770021000,1,2\n'), 'new', `D${tapes}`);
    const mixed = file([`${a},9`, `E${tapes},9`, `D${tapes},9`]);
    await expect(imported(mixed, 'join', 'ignored')).rejects.toThrow(/holds time, bid, ask; the file has time, price/);
    expect([(await tapeOf(a)).rows, await tapeOf(`E${tapes}`)]).toEqual([2, undefined]);
  });

  it('with finer prices has the tape show as many decimals', async () => {
    const name = `T${tapes++}`;
    await imported(text('time,price,size\n1770021000,1.5,1\n1770021001,2,1\n'), 'new', name);
    await imported(text('time,price,size\n1770021002,1.625,1.5\n1770021003,2,1\n'), 'append', name);
    expect(await tapeOf(name)).toMatchObject({ priceDecimals: 3, sizeDecimals: 1 });
  });
});

describe('columns of the file’s own', () => {
  const headers = ['price', 'time', 'flags', 'line', 'size', 'venue', 'venue', '__proto__', 'close', 'toString'];
  const words = (row: number) => headers.map((_, at) => `w${at}${row % 2}`);

  it('may be called anything, ours too, and twice the same: nothing of ours changes', async () => {
    const name = `T${tapes++}`;
    const rows = Array.from({ length: 4 }, (_, row) => [`${1770021000 + row}`, `${100 + row}`, ...words(row)].join());
    const file = text(`at,paid,${headers.join()}\n${rows.join('\n')}\n`);
    const query = ImportQuery.parse({ name, zone: 'UTC' });
    const columns = ['time', 'price', ...headers.map(() => 'text')].map((role, at) => ({
      role,
      name: role === 'text' ? headers[at - 2] : '',
    }));
    const incoming = new FileImport(folder, query, { header: true, columns }, NOW, readLimits({}));
    await incoming.read(
      (async function* () {
        yield file;
      })(),
      () => undefined,
    );
    await enterFile(store, incoming, { bytes: 0, sha256: '' }, { entering: 'new' });
    await incoming.close();
    const tape = await tapeOf(name);
    const records = await stored(name);
    expect([...records.time]).toEqual([0, 1, 2, 3].map((row) => (1770021000 + row) * 1e6));
    expect([...records.price]).toEqual([100, 101, 102, 103]);
    expect([...records.flags]).toEqual([0, 0, 0, 0]);
    expect([...records.line]).toEqual([2, 3, 4, 5]);
    expect(tape.columns).toEqual(['time', 'price', 'line', 'flags']);
    expect(tape.texts.map(({ title }) => title)).toEqual(headers);
    expect(new Set(tape.texts.map((one) => one.name)).size).toBe(headers.length);
    tape.texts.forEach(({ column, words: list }, at) =>
      expect(Array.from(records[column], (code) => list[code])).toEqual([0, 1, 2, 3].map((row) => `w${at}${row % 2}`)),
    );
  });
});
