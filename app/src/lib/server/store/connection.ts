import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import knex, { type Knex } from 'knex';
import { migrations } from './migrations/migrations';

/** A connection to the store, or a transaction on one. What it is made of stays in this folder. */
export type Store = Knex;

const PRAGMAS = [
  'page_size = 16384', // of a new store: a part of a tape is a third of a megabyte, which takes many small pages
  'journal_mode = WAL',
  'synchronous = FULL',
  'foreign_keys = ON',
  'busy_timeout = 10000',
];

/**
 * A connection that leaves what it writes in the log: whoever waits for a large transaction need not wait until it has been
 * written a second time, to its place. `settle` does that afterwards.
 */
export const connectToAppend = (folder: string): Knex => connect(folder, ['wal_autocheckpoint = 0']);

/** Brings what is in the log to its place, as far as no reader stands in the way, and closes the connection. */
export async function settle(db: Knex): Promise<void> {
  await db.raw('PRAGMA wal_checkpoint(PASSIVE)');
  await db.destroy();
}

/** Opens the store in a folder, makes it where there is none, and brings its tables up to date. */
export async function openStore(folder: string): Promise<Knex> {
  mkdirSync(folder, { recursive: true });
  const db = connect(folder);
  await db.migrate.latest({ migrationSource: migrations });
  return db;
}

/** A further connection to a store that is open already: one for each thread. */
export function connect(folder: string, pragmas: readonly string[] = []): Knex {
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
        for (const pragma of [...PRAGMAS, ...pragmas]) connection.pragma(pragma);
        done(null, connection);
      },
    },
  });
}
