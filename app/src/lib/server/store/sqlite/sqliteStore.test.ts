import { existsSync, mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import knex from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { firstLedger } from '$lib/api/ledgers';
import { decodeChunk, encodeChunk } from '../../chunks/tapeChunk';
import { chunksBetween } from '../chunks';
import { ledgers } from '../ledgers';
import { migrateTables } from '../migrations/migrateTables';
import { migrations } from '../migrations/migrations';
import { holdStore, type HeldStore } from '../openStore';
import { testTape as tape } from '../storesOfTests';
import * as tapes from '../tapes';
import { SqliteClient } from './sqliteClient';

describe('the folder of a store', () => {
  let folder: string;
  let held: HeldStore;
  beforeEach(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-store-'));
    held = await holdStore(`sqlite:${folder}`);
  });
  afterEach(async () => {
    await held.release();
    rmSync(folder, { recursive: true, force: true });
  });
  it('is this user’s alone', () => {
    for (const file of ['ledger.sqlite', 'ledger.sqlite-wal', 'ledger.sqlite-shm'])
      if (existsSync(join(folder, file))) expect(statSync(join(folder, file)).mode & 0o777, file).toBe(0o600);
  });

  it('has a log that does not grow for ever where another thread writes all the time', async () => {
    const writing = new Worker(
      `const { DatabaseSync } = require('@photostructure/sqlite');
       const { workerData } = require('node:worker_threads');
       const db = new DatabaseSync(workerData, { timeout: 5000 });
       for (const pragma of ['wal_autocheckpoint = 0', 'synchronous = OFF']) db.exec('PRAGMA ' + pragma);
       const insert = db.prepare("insert into chunk values ('a', ?, 0, ?)");
       const pause = new Int32Array(new SharedArrayBuffer(4));
       for (let at = 0; at < 1000; at++) {
         insert.run(at, Buffer.alloc(1 << 18, 7));
         Atomics.wait(pause, 0, 0, 3);
       }`,
      { eval: true, workerData: join(folder, 'ledger.sqlite') },
    );
    const ended = new Promise((done) => writing.once('exit', done));
    let isOver = false;
    void ended.then(() => (isOver = true));
    let largest = 0;
    while (!isOver) {
      await setTimeout(20);
      await held.store.settle();
      largest = Math.max(largest, statSync(join(folder, 'ledger.sqlite-wal')).size);
    }
    // of 262 MB
    expect(largest).toBeLessThan(130e6);
    expect(largest).toBeGreaterThan(1e6);
  });

  it('belongs to one server at a time', async () => {
    const address = `sqlite:${folder}`;
    await expect(holdStore(address)).rejects.toThrow(`Another server, process ${process.pid}, works with the folder`);
    await held.release();
    held = await holdStore(address);
  });

  it('is told by an address of a kind that is known', async () =>
    expect(holdStore('ledger.sqlite')).rejects.toThrow('`sqlite:` and a folder'));
});

it('a store of an earlier day is brought up to date with all its tapes, words, lines and ledgers', async () => {
  const old = mkdtempSync(join(tmpdir(), 'jaunty-old-'));
  const db = knex({
    client: SqliteClient,
    connection: { filename: join(old, 'ledger.sqlite') },
    useNullAsDefault: true,
  });
  const EARLIER = 3;
  const names = (await migrations.getMigrations([])).slice(0, EARLIER);
  await db.migrate.latest({ migrationSource: { ...migrations, getMigrations: async () => names } });
  const column = (values: number[]) => Float64Array.from(values);
  const columns = { time: column([1, 2]), price: column([5, 6]), venue: column([1, 0]), line: column([2, 3]) };
  const { decimals: _, firstAt, lastAt, ...encoded } = encodeChunk({ ...columns, flags: column([0, 0]) }, 'price');
  const added = ['texts', 'generationId', 'columns', 'numbers', 'precision', 'calendar', 'tags'];
  const plain = Object.fromEntries(Object.entries(tape('OLD')).filter(([name]) => !added.includes(name)));
  const row = Object.fromEntries(
    Object.entries(plain).map(([name, value]) => [
      name.replaceAll(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`),
      typeof value === 'object' && value !== null ? JSON.stringify(value) : value,
    ]),
  );
  const json = { columns: '["time","price","venue","line","flags"]', words: '{"venue":["North","South"]}' };
  await db('tape').insert({ ...row, ...json, id: 7, name_key: 'old', appended: '[]', version: 4 });
  await db('tape_chunk').insert({ ...encoded, tape_id: 7, sequence: 0, first_at: firstAt, last_at: lastAt });
  await db('left_out_line').insert({ tape_id: 7, file: 0, line: 9, reason: 'no price', text: 'x,' });
  const { title, body } = firstLedger('Old', '1 hour');
  await db('ledger').insert({ title, body: JSON.stringify(body), version: 1, saved_at: 1 });
  await db.destroy();

  const { store: opened } = await holdStore(`sqlite:${old}`);
  try {
    const found = (await opened.read((rows) => tapes.findTape(rows, 'OLD')))!;
    expect(found).toMatchObject({
      version: 4,
      columns: ['time', 'price', 'line', 'flags'],
      numbers: [],
      precision: 'moment',
      calendar: null,
      tags: [],
      texts: [{ name: 'venue', title: 'venue', column: 'venue', words: ['North', 'South'] }],
    });
    const part = await chunksBetween(opened, found, -Infinity, Infinity).next();
    expect(decodeChunk(part.value!)).toMatchObject(columns);
    expect(await opened.read((rows) => tapes.leftOutLines(rows, 7))).toEqual([
      { file: 0, line: 9, reason: 'no price', text: 'x,' },
    ]);
    expect(await opened.read((rows) => ledgers.last(rows, 'OLD'))).toMatchObject({
      title,
      body: { ...body, tape: 'OLD' },
    });
  } finally {
    await opened.close();
    rmSync(old, { recursive: true });
  }
});

it('a server works beside tables of a newer one, unless they are changed in a way it cannot work with', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-newer-'));
  const open = () =>
    knex({ client: SqliteClient, connection: { filename: join(folder, 'a.sqlite') }, useNullAsDefault: true });
  const step = { up: async () => undefined, down: async () => undefined };
  const newer = (...names: string[]) => ({
    getMigrations: async () => [...(await migrations.getMigrations([])), ...names],
    getMigrationName: (name: string) => name,
    getMigration: (name: string) => (names.includes(name) ? Promise.resolve(step) : migrations.getMigration(name)),
  });
  try {
    for (const [names, refused] of [
      [['900-more'], undefined],
      [['900-more', '901-other-breaking'], /upgraded by a newer version \(step 901-other-breaking\)/],
    ] as const) {
      const db = open();
      await migrateTables(db, {}, newer(...names));
      const old = migrateTables(db);
      await (refused ? expect(old).rejects.toThrow(refused) : expect(old).resolves.toBeUndefined());
      await db.destroy();
    }
  } finally {
    rmSync(folder, { recursive: true });
  }
});
