import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { firstLedger } from '$lib/api/ledgers';
import { encodeChunk } from '../chunks/tapeChunk';
import { chunkOfRow, chunksBetween, deleteChunksFrom, insertChunks, rowsInChunksBefore } from './chunks';
import { connect, openStore, type Store } from './connection';
import { deleteLedger, findLedger, insertLedger, listLedgers, renameInLedgers, updateLedger } from './ledgers';
import { findProfile, keepProfile, profileOfShape } from './profiles';
import * as tapes from './tapes';

let folder: string;
let db: Store;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-store-'));
  db = await openStore(folder);
});
afterEach(async () => {
  await db.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const tape = (name: string): tapes.NewTape => ({
  name,
  kind: 'ticks',
  zone: 'Atlantic/Faroe',
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue'],
  closed: ['2026-02-03'],
  closeIncluded: false,
  interval: null,
  rows: 4,
  flagged: 0,
  firstAt: 0,
  lastAt: 30,
  columns: ['time', 'price', 'line', 'flags'],
  priceDecimals: 2,
  sizeDecimals: 0,
  spark: [1, 2],
  note: '',
  unit: 'kr',
  words: { venue: ['X', 'Y'] },
  report: {
    file: 'a.csv',
    bytes: 9,
    sha256: '',
    lines: 4,
    reading: null,
    findings: [],
    leftOutCount: 0,
    enteredAt: '',
  },
});

describe('tapes', () => {
  it('come back as they went in, by a name of any capitals', async () => {
    await tapes.insertTape(db, tape('Kelp'));
    const more = { version: 1, appended: [], calendarCheck: null };
    expect(await tapes.findTape(db, 'kELP')).toMatchObject({ ...tape('Kelp'), ...more });
    expect(await tapes.findTape(db, 'SALT')).toBeUndefined();
  });

  it('have one name each', async () => {
    await tapes.insertTape(db, tape('KELP'));
    await expect(tapes.insertTape(db, tape('kelp'))).rejects.toThrow(/UNIQUE/);
  });

  it('are of a new version after every change, since their bars may be others', async () => {
    await tapes.insertTape(db, tape('KELP'));
    const before = (await tapes.findTape(db, 'KELP'))!;
    await tapes.updateTape(db, before, { zone: 'UTC', session: null, closed: null });
    expect(await tapes.findTape(db, 'KELP')).toMatchObject({ zone: 'UTC', session: null, closed: null, version: 2 });
  });

  it('that were deleted leave their name free, and come back until they are cleared away', async () => {
    await tapes.insertTape(db, tape('KELP'));
    await tapes.deleteTape(db, (await tapes.findTape(db, 'KELP'))!, 100);
    expect(await tapes.listTapes(db)).toEqual([]);
    await tapes.insertTape(db, tape('KELP'));
    const deleted = (await tapes.findDeleted(db, 'KELP'))!;
    await expect(tapes.restoreTape(db, deleted)).rejects.toThrow(/UNIQUE/);
    await tapes.clearDeleted(db, 100);
    expect(await tapes.findDeleted(db, 'KELP')).toBeDefined();
    await tapes.clearDeleted(db, 101);
    expect(await tapes.findDeleted(db, 'KELP')).toBeUndefined();
  });

  it('keep the lines that were left out, in order', async () => {
    const id = await tapes.insertTape(db, tape('KELP'));
    const lines = Array.from({ length: 500 }, (_, i) => ({ line: 500 - i, reason: 'no price', text: `${i},` }));
    await tapes.insertLeftOut(db, id, lines.slice(0, 9), 1);
    await tapes.insertLeftOut(db, id, lines);
    expect(await tapes.leftOutLines(db, id)).toEqual([
      ...lines.toReversed().map((line) => ({ ...line, file: 0 })),
      ...lines
        .slice(0, 9)
        .toReversed()
        .map((line) => ({ ...line, file: 1 })),
    ]);
  });
});

describe('chunks', () => {
  const chunk = (times: number[]) => {
    const column = (value: number) => new Float64Array(times.length).fill(value);
    return encodeChunk(
      { time: Float64Array.from(times), price: column(2), line: column(1), flags: column(0) },
      'price',
    );
  };
  let id: number;
  beforeEach(async () => {
    id = await tapes.insertTape(db, tape('KELP'));
    await insertChunks(db, id, 0, [chunk([0, 10]), chunk([10, 20]), chunk([21, 30])]);
  });

  const sequencesBetween = async (from: number, to: number) => {
    const sequences: number[] = [];
    for await (const { sequence } of chunksBetween(db, id, from, to)) sequences.push(sequence);
    return sequences;
  };

  it.each([
    [-Infinity, Infinity, [0, 1, 2]],
    [10, 20, [0, 1]],
    [11, 21, [1]],
    [20, 20.5, [1]],
    [31, Infinity, []],
    [-Infinity, 0, []],
  ])('that hold records from %d to %d', async (from, to, wanted) =>
    expect(await sequencesBetween(from, to)).toEqual(wanted),
  );

  it('are found by a row, and counted before an instant', async () => {
    expect(await chunkOfRow(db, id, 0)).toEqual({ sequence: 0, firstRow: 0 });
    expect(await chunkOfRow(db, id, 3)).toEqual({ sequence: 1, firstRow: 2 });
    expect(await chunkOfRow(db, id, 6)).toBeUndefined();
    expect(await rowsInChunksBefore(db, id, 21)).toBe(4);
  });

  it('of a long tape come back in order, however many there are', async () => {
    await deleteChunksFrom(db, id, 0);
    const times = Array.from({ length: 37 }, (_, i) => i);
    await insertChunks(
      db,
      id,
      0,
      times.map((time) => chunk([time])),
    );
    expect(await sequencesBetween(-Infinity, Infinity)).toEqual(times);
    expect(await sequencesBetween(5, 30)).toEqual(times.slice(5, 30));
  });

  it('are cut off from one on, and go with their tape', async () => {
    expect(await deleteChunksFrom(db, id, 1)).toBe(1);
    expect(await sequencesBetween(-Infinity, Infinity)).toEqual([0]);
    await tapes.deleteTape(db, (await tapes.findTape(db, 'KELP'))!, 1);
    await tapes.clearDeleted(db, 2);
    expect(await db('tape_chunk').count({ left: '*' }).first()).toEqual({ left: 0 });
  });

  it('of a transaction that fails are not there', async () => {
    const failed = db.transaction(async (transaction) => {
      await insertChunks(transaction, id, 3, [chunk([40])]);
      throw new Error('the power went');
    });
    await expect(failed).rejects.toThrow('the power went');
    expect(await sequencesBetween(-Infinity, Infinity)).toEqual([0, 1, 2]);
  });
});

describe('ledgers', () => {
  const { body } = firstLedger('KELP', '1 hour');

  it('are saved on the version they were made on, and on no other', async () => {
    const { id } = await insertLedger(db, { title: 'First', body }, 1);
    expect(await updateLedger(db, id, { title: 'Second', body, version: 1 }, 2)).toMatchObject({ version: 2 });
    expect(await updateLedger(db, id, { title: 'Third', body, version: 1 }, 3)).toBeUndefined();
    expect((await findLedger(db, id))!.title).toBe('Second');
  });

  it('are listed by when they were saved, the last first', async () => {
    for (const [at, title] of ['Old', 'New', 'Middle'].entries())
      await insertLedger(db, { title, body }, [1, 3, 2][at]);
    expect((await listLedgers(db)).map(({ title }) => title)).toEqual(['New', 'Middle', 'Old']);
  });

  it('follow a tape that gets another name', async () => {
    const { id } = await insertLedger(db, { title: 'Kelp', body }, 1);
    const other = await insertLedger(db, { title: 'Salt', body: { ...body, tape: 'SALT' } }, 1);
    await renameInLedgers(db, 'KELP', 'WEED');
    expect((await findLedger(db, id))!.body.tape).toBe('WEED');
    expect((await findLedger(db, other.id))!.body.tape).toBe('SALT');
  });

  it('of an earlier day are read with the usual values for what has come since', async () => {
    const old = {
      tape: 'KELP',
      rule: '1 hour',
      lanes: [{ id: 'a', base: 'price', weight: 1, entries: [] }],
      view: null,
    };
    await db('ledger').insert({ title: 'Old', body: JSON.stringify(old), version: 1, saved_at: 1 });
    expect((await listLedgers(db))[0].body).toMatchObject({ axis: 'bars', notes: [], trimmed: false, flagged: true });
  });

  it('can be taken away, once', async () => {
    const { id } = await insertLedger(db, { title: 'First', body }, 1);
    expect([await deleteLedger(db, id), await deleteLedger(db, id)]).toEqual([true, false]);
  });
});

it('a reading is kept under a name, gives way to one of the same name, and is found by the shape of a file', async () => {
  await keepProfile(db, { name: 'mine', shape: 'a,b', choices: { decimal: 'point' } });
  await keepProfile(db, { name: 'mine', shape: 'a,c', choices: { decimal: 'comma' } });
  expect(await findProfile(db, 'mine')).toEqual({ name: 'mine', shape: 'a,c', choices: { decimal: 'comma' } });
  expect(await profileOfShape(db, 'a,b')).toBeUndefined();
  expect((await profileOfShape(db, 'a,c'))!.name).toBe('mine');
});

it('another connection sees what was entered, and waits for one that writes', async () => {
  await tapes.insertTape(db, tape('KELP'));
  const second = connect(folder);
  try {
    const slow = db.transaction(async (transaction) => {
      await tapes.insertTape(transaction, tape('SALT'));
      await new Promise((resolve) => setTimeout(resolve, 100));
    });
    await Promise.all([slow, new Promise((resolve) => setTimeout(resolve, 20))]);
    await tapes.insertTape(second, tape('AMBR'));
    expect((await tapes.listTapes(db)).map(({ name }) => name)).toEqual(['AMBR', 'KELP', 'SALT']);
  } finally {
    await second.destroy();
  }
});
