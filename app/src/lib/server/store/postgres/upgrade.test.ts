import knex, { type Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { migrateTables } from '../migrations/migrateTables';
import { migrations } from '../migrations/migrations';
import { emptyDatabase, type TestStore } from '../storesOfTests';
import { openPostgresStore } from './postgresStore';

/* An upgrade beside servers that are at work. */

describe.skipIf(inject('databasePort') === 0)('an upgrade of the tables', () => {
  let database: TestStore;
  let reader: Knex;
  let other: Knex;
  beforeAll(async () => {
    database = await emptyDatabase();
    [reader, other] = [1, 2].map(() => knex({ client: 'pg', connection: database.address, pool: { min: 0, max: 3 } }));
  });
  afterAll(async () => {
    await Promise.all([reader, other].map((one) => one.destroy()));
    await database.clear();
  });

  it('gives up waiting for a long read, so that nobody waits behind it, and is tried again', async () => {
    const all = await migrations.getMigrations([]);
    const before = all.filter((name) => name < '015');
    await migrateTables(other, {}, { ...migrations, getMigrations: () => Promise.resolve(before) });
    const reading = await reader.transaction();
    await reading.raw('select count(*) from tape');
    const upgrade = openPostgresStore(database.address);
    // the step that changes the table waits for its lock now
    await expect
      .poll(
        async () =>
          (await other.raw("select 1 from pg_locks where mode = 'AccessExclusiveLock' and not granted")).rows
            .length as number,
        {
          timeout: 30_000,
        },
      )
      .toBe(1);
    // further statements queue behind it, but not for as long as the read takes
    expect((await other('tape').count({ tapes: '*' }))[0].tapes).toBe('0');
    await reading.commit();
    const store = await upgrade;
    const [{ steps }] = await store.read((rows) => rows('knex_migrations').count({ steps: '*' }));
    expect(Number(steps)).toBe(all.length);
    await store.close();
  });
});
