import { randomUUID } from 'node:crypto';
import knex from 'knex';
import { describe, expect, inject, it } from 'vitest';
import { connectJobQueue } from '../openStore';
import { emptyDatabase } from '../storesOfTests';
import { openPostgresStore } from './postgresStore';

/* Servers that are started at one moment: each of them comes up, and all work with the same tables. */

const SERVERS = 4;

describe.skipIf(inject('databasePort') === 0)('servers that start at once', () => {
  it.each(['with nothing in it', 'whose queue is not made yet'])('on a database %s', async (which) => {
    const { address, clear } = await emptyDatabase();
    if (which === 'whose queue is not made yet') {
      await (await connectJobQueue(address))!.close();
      const database = knex({ client: 'pg', connection: address });
      await database.raw("select job_queue.delete_queue('jobs')").finally(() => database.destroy());
    }
    const started = await Promise.all(
      Array.from({ length: SERVERS }, () => Promise.all([openPostgresStore(address), connectJobQueue(address)])),
    );
    const [[store, queue]] = started;
    const id = randomUUID();
    await store.write((rows) => queue!.put(rows, id, 0));
    const taken = await Promise.all(started.map(([, one]) => one!.next()));
    expect(taken.filter((found) => found !== undefined)).toEqual([id]);
    await Promise.all(started.flat().map((one) => one!.close()));
    await clear();
  });
});
