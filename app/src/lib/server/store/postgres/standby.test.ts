import { once } from 'node:events';
import { createServer } from 'node:net';
import knex, { type Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { startPostgres, type ThrowAwayPostgres } from '../../../../../../scripts/postgres.mjs';
import { decodeChunk, encodeChunk } from '../../chunks/tapeChunk';
import { chunksBetween } from '../chunks';
import { GenerationWriter } from '../generations';
import { holdStore, type HeldStore } from '../openStore';
import { testTape } from '../storesOfTests';
import type { StoredTape } from '../tapeRows';
import * as tapes from '../tapes';

/* Records are read from a standby, which lags: what is read is never older than what was asked for. */

describe.skipIf(inject('databasePort') === 0)('a store with a standby', () => {
  let main: ThrowAwayPostgres;
  let standby: ThrowAwayPostgres;
  let there: Knex;
  let held: HeldStore;
  beforeAll(async () => {
    main = await startPostgres();
    const address = main.database('ledger');
    standby = await startPostgres({ standbyOf: main.addressOf('postgres') });
    there = knex({ client: 'pg', connection: standby.addressOf('ledger'), pool: { min: 0, max: 1 } });
    held = await holdStore(address, { readAddress: standby.addressOf('ledger') });
  });
  afterAll(async () => {
    await held.release();
    await there.destroy();
    await Promise.all([standby.end(), main.end()]);
  });

  async function tapeOf(name: string, times: number[]) {
    const { store } = held;
    const column = (value: number) => new Float64Array(times.length).fill(value);
    const columns = { time: Float64Array.from(times), price: column(2), line: column(1), flags: column(0) };
    const generation = new GenerationWriter(store, 0);
    const { decimals: _, ...chunk } = encodeChunk(columns, 'price');
    await generation.add(chunk);
    await generation.finish();
    await store.write((rows) => tapes.insertTape(rows, testTape(name, generation.id)));
    return (await store.read((rows) => tapes.findTape(rows, name)))!;
  }
  async function timesOf(tape: StoredTape): Promise<number[]> {
    const all: number[] = [];
    for await (const chunk of chunksBetween(held.store, tape, -Infinity, Infinity))
      all.push(...decodeChunk(chunk).time);
    return all;
  }
  const chunksThere = async (): Promise<number> =>
    (await there.raw<{ rows: { count: number }[] }>('select count(*)::int as count from chunk')).rows[0].count;
  /** Whether the store has looked for chunks there. */
  async function wasAsked(): Promise<boolean> {
    const { rows } = await there.raw<{ rows: object[] }>(
      `select 1 from pg_stat_activity where application_name = 'jaunty-ledger' and query like '%from "chunk"%'`,
    );
    return rows.length > 0;
  }
  async function until(reached: () => Promise<boolean>): Promise<void> {
    for (let tries = 0; !(await reached()); tries++) {
      if (tries > 200) throw new Error('it did not come about');
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  it('reads records there, and from the database what has not come there yet', async () => {
    const kelp = await tapeOf('KELP', [1, 2, 3]);
    await until(async () => (await chunksThere()) === 1);
    expect(await wasAsked()).toBe(false);
    expect(await timesOf(kelp)).toEqual([1, 2, 3]);
    expect(await wasAsked()).toBe(true);
    await there.raw('select pg_wal_replay_pause()');
    const salt = await tapeOf('SALT', [4, 5]);
    expect(await timesOf(salt)).toEqual([4, 5]);
    expect(await chunksThere()).toBe(1);
    await there.raw('select pg_wal_replay_resume()');
    await until(async () => (await chunksThere()) === 2);
  });

  it('reads everything from the database while the standby is away', async () => {
    const lamp = await tapeOf('LAMP', [6, 7, 8]);
    await standby.stop('kill');
    let connections = 0;
    const deaf = createServer((connection) => {
      connections++;
      connection.destroy();
    }).listen(standby.port, '127.0.0.1');
    await once(deaf, 'listening');
    expect(await timesOf(lamp)).toEqual([6, 7, 8]);
    const tries = connections;
    for (let reads = 0; reads < 5; reads++) expect(await timesOf(lamp)).toEqual([6, 7, 8]);
    expect([tries > 0, connections]).toEqual([true, tries]); // it is not asked again each time
    deaf.close();
    await once(deaf, 'close');
    await standby.start();
  });
});
