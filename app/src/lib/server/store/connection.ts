import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { migrations } from './migrations/migrations';

/** A connection to the store, or a transaction on one. What it is made of stays in this folder. */
export type Store = Knex;

/** Opens the store in a folder, makes it where there is none, and brings its tables up to date. */
export async function openStore(folder: string): Promise<Knex> {
  mkdirSync(folder, { recursive: true });
  const db = connect(folder);
  await db.migrate.latest({ migrationSource: migrations });
  return db;
}

/** A further connection to a store that is open already: one for each thread. */
export function connect(folder: string): Knex {
  return knex({
    client: 'better-sqlite3',
    connection: { filename: join(folder, 'ledger.sqlite') },
    useNullAsDefault: true,
    pool: {
      min: 1,
      max: 1,
      afterCreate(
        connection: { pragma: (text: string) => void },
        done: (error: Error | null, connection: unknown) => void,
      ) {
        // a kill or a power cut at any moment leaves a store that opens, with all that was entered
        for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON', 'busy_timeout = 10000'])
          connection.pragma(pragma);
        done(null, connection);
      },
    },
  });
}
