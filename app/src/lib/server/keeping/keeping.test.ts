import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { toParquet } from '@jaunty-ledger/files/tables/parquetTable';
import { decodeChunk, encodeChunk } from '../chunks/tapeChunk';
import { chunksBetween } from '../store/chunks';
import { GenerationWriter } from '../store/generations';
import { firstLedger } from '$lib/api/ledgers';
import { noteSender } from '../store/feedSenders';
import { ledgers } from '../store/ledgers';
import { holdStore, type HeldStore } from '../store/openStore';
import { emptyStore, storeKinds, testTape, type StoreKind, type TestStore } from '../store/storesOfTests';
import * as tapes from '../store/tapes';
import { allTapes, tapeRow } from '../store/whole';
import { backUp } from './backup';
import { tapeFolder } from './backupFiles';
import { moveStore } from './move';
import { restore } from './restore';

/* A store is carried to one of another kind, and to a folder of open files and back: all of it, to the last bit. */

const quiet = () => undefined;
const pairs = storeKinds().flatMap((from) => storeKinds().map((to): [StoreKind, StoreKind] => [from, to]));
/** One way each: a folder and a database, both ways, and from one folder to another. */
const WAYS = pairs.filter(
  ([from, to]) => ![from, to].includes('several database servers') && (from === 'a folder' || to === 'a folder'),
);

describe.each(WAYS)('what is kept in %s comes to %s', (kindFrom, kindTo) => {
  let made: TestStore[];
  let from: HeldStore;
  let to: HeldStore;
  let folder: string;
  beforeEach(async () => {
    made = [await emptyStore(kindFrom), await emptyStore(kindTo)];
    [from, to] = [await holdStore(made[0].address), await holdStore(made[1].address)];
    folder = mkdtempSync(join(tmpdir(), 'jaunty-keeping-'));
  });
  afterEach(async () => {
    await from.release();
    await to.release();
    for (const one of made) await one.clear();
    rmSync(folder, { recursive: true, force: true });
  });

  const missing = (values: number[]) => Float64Array.from(values, (value) => (value === 0 ? NaN : value));
  const parts = fc.array(
    fc.array(fc.tuple(fc.nat(1e6), fc.double({ noNaN: true }), fc.constantFrom(-1, 0, 1, 2)), {
      minLength: 1,
      maxLength: 40,
    }),
    { minLength: 0, maxLength: 6 },
  );

  /** Enters a tape with figures of any kind, words, and some that are missing. */
  async function enter(name: string, blocks: [number, number, number][][]) {
    const generation = new GenerationWriter(from.store, 0);
    let time = Date.UTC(2026, 1, 2) * 1000;
    let rows = 0;
    for (const block of blocks) {
      const columns = {
        time: Float64Array.from(block, ([wait]) => (time += wait)),
        price: Float64Array.from(block, ([, price]) => price),
        line: Float64Array.from(block, (_, row) => row),
        flags: Float64Array.from(block, ([wait]) => wait % 3),
        'text:venue': Float64Array.from(block, ([, , word]) => (word === -1 ? NaN : word % 2)),
        'number:lots': missing(block.map(([, , lots]) => lots)),
      };
      const { decimals: _, ...chunk } = encodeChunk(columns, 'price');
      await generation.add(chunk);
      rows += block.length;
    }
    await generation.finish();
    const tape = { ...testTape(name, blocks.length > 0 ? generation.id : ''), rows };
    await from.store.write(async (rows) => {
      const id = await tapes.insertTape(rows, tape);
      await tapes.insertLeftOut(rows, id, [{ line: 3, reason: 'no price', text: `of ${name}` }]);
    });
  }

  /** Everything of a store: its shelf, the records of its tapes, its ledgers. */
  async function all({ store }: HeldStore) {
    const found: unknown[] = [];
    for (const { id } of await store.read(allTapes)) {
      const { generation_id: _, parts: __, ...row } = (await store.read((rows) => tapeRow(rows, id)))!;
      const tape = (await store.read((rows) => tapes.tapeOfId(rows, row.id, true)))!;
      const columns: Record<string, number[]> = {};
      for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity))
        for (const [name, values] of Object.entries(decodeChunk(chunk))) (columns[name] ??= []).push(...values);
      found.push(row, columns, await store.read((rows) => rows('left_out_file').where({ tape_id: row.id })));
    }
    return [...found, await store.read((rows) => rows('ledger')), await store.read((rows) => rows('calendar'))];
  }

  async function furnish(blocks: [number, number, number][][]) {
    await enter('KELP', blocks);
    await enter('SALT', []);
    await enter('GONE', [[[1, 2, 0]]]);
    await from.store.write(async (rows) => {
      await tapes.deleteTape(rows, (await tapes.findTape(rows, 'GONE'))!, Date.now() * 1000);
      await ledgers.insert(rows, firstLedger('KELP', '1 hour'), 5);
    });
  }

  it('as it is moved, and moved again', async () => {
    await furnish(fc.sample(parts, { numRuns: 1, seed: 6 })[0]);
    await moveStore(from.store, to.store, quiet);
    expect(await all(to)).toEqual(await all(from));
    // what is there already is not moved again, and what has come since is
    await enter('LATER', [[[1, 5, 1]]]);
    const told: string[] = [];
    await moveStore(from.store, to.store, (line) => told.push(line));
    expect(told.filter((line) => line.endsWith('is there already')).length).toBe(3);
    expect(await all(to)).toEqual(await all(from));
  });

  it('as files that anybody can read', async () => {
    const [blocks] = fc.sample(parts, { numRuns: 1, seed: 7 });
    await furnish([
      ...blocks,
      [
        [5, -0, 1],
        [7, Number.MIN_VALUE, -1],
      ],
    ]);
    const backup = join(folder, 'backup');
    await backUp(from.store, backup, quiet);
    await expect(backUp(from.store, backup, quiet)).rejects.toThrow('is there already');
    const before = await all(from);
    expect(readdirSync(folder)).toEqual(['backup']);
    await restore(backup, to.store, quiet);
    expect(await all(to)).toEqual(before);
    await restore(backup, to.store, quiet); // nothing is doubled
    expect(await all(to)).toEqual(before);
  });

  it('with each tape and its senders as of one moment, while it is fed', async () => {
    await enter('FED', [[[1, 5, 1]]]);
    const { id } = (await from.store.read((rows) => tapes.findTape(rows, 'FED')))!;
    let isOver = false;
    const feeding = (async () => {
      for (let version = 2; !isOver; version++) {
        await from.store.write(async (rows) => {
          await rows('tape').where({ id }).update({ version });
          await noteSender(rows, id, 'one', { lastSequence: version, records: 1, at: version });
        });
        await setTimeout(1);
      }
    })();
    try {
      for (let backup = 0; backup < 20; backup++) {
        const target = join(folder, `fed-${backup}`);
        await backUp(from.store, target, quiet);
        const read = (name: string) => JSON.parse(readFileSync(join(target, tapeFolder(id), name), 'utf8'));
        const [[row], [sender]] = [read('tape.json'), read('feed_sender.json')];
        if (sender) expect(sender.last_sequence).toBe(row.version);
      }
    } finally {
      isOver = true;
      await feeding;
    }
  });

  it('not where the other one holds something else, and not from files that are damaged', async () => {
    await furnish([
      [
        [1, 2, 1],
        [1, 3, 1],
      ],
    ]);
    const backup = join(folder, 'backup');
    await backUp(from.store, backup, quiet);
    const id = (await from.store.read((rows) => tapes.findTape(rows, 'KELP')))!.id;
    const file = join(backup, 'tapes', String(id), 'records-00000.parquet');
    const bytes = readFileSync(file);
    for (const damaged of [
      bytes.subarray(0, 40),
      Buffer.alloc(0),
      toParquet([{ name: 'time', kind: 'instants', values: Float64Array.of(1, 2) }], quiet),
    ]) {
      writeFileSync(file, damaged);
      await expect(restore(backup, to.store, quiet)).rejects.toThrow(/records-00000.parquet of the backup is damaged/);
      expect(await to.store.read((rows) => tapes.findTape(rows, 'KELP'))).toBeUndefined();
    }
    writeFileSync(file, bytes);
    const ours = join(backup, 'tables', 'ledger.json');
    writeFileSync(ours, readFileSync(ours, 'utf8').replace('first look', 'last look'));
    await expect(restore(backup, to.store, quiet)).rejects.toThrow('ledger.json of the backup is damaged');
    writeFileSync(join(backup, 'backup.json'), '{}');
    await expect(restore(backup, to.store, quiet)).rejects.toThrow('is no whole backup');
    await to.store.write((rows) => tapes.insertTape(rows, testTape('OTHER')));
    await expect(moveStore(from.store, to.store, quiet)).rejects.toThrow('holds OTHER');
    expect(existsSync(`${backup}.part`)).toBe(false);
  });
});
