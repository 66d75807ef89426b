import { chmodSync, existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import knex, { type Knex } from 'knex';
import { migrateTables } from '../migrations/migrateTables';
import { isStoreFull, storeBusy, type Rows, type Store } from '../store';
import { storeError } from '../storeError';
import { SqliteClient, SqliteReader } from './sqliteClient';
import { isBusy } from './sqliteErrors';

const PRAGMAS = [
  'page_size = 16384', // of a new store: a part of a tape is a third of a megabyte, which takes many small pages
  'journal_mode = WAL',
  'synchronous = FULL',
  'foreign_keys = ON',
  // what is in the log is written a second time, to its place: not by whoever happens to write next, see `settle`
  'wal_autocheckpoint = 0',
];

/** A write that finds another one under way is tried again after so long, again and again, but no longer than the last. */
const RETRY_MS = { least: 1, most: 10, inAll: 20_000 };
/** The log of a store that is written to all the time becomes as long as this, about. */
const MOST_LOG_PAGES = 2000;
const RESTART_TRIES = 50;
/** Readers wait only while the log is being recovered, after a kill. */
const READER_WAITS_MS = 5000;

/** A store in one file of a folder. Each thread has one of its own. */
export class SqliteStore implements Store {
  readonly isShared = false;
  hasRoom = true;
  private readonly reader: Knex;
  private readonly writer: Knex;

  /**
   * Opens what is there; `openSqliteStore` makes it and brings it up to date.
   * @param changed  told after each write: what it wrote lies in the log until somebody settles it
   */
  constructor(
    folder: string,
    private readonly changed: () => void = () => undefined,
  ) {
    const filename = join(folder, FILE);
    this.reader = connect(SqliteReader, filename, [`busy_timeout = ${READER_WAITS_MS}`]);
    // a wait within the library would hold up the whole thread
    this.writer = connect(SqliteClient, filename, ['busy_timeout = 0']);
  }

  async read<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result> {
    try {
      return await work(this.reader);
    } catch (error) {
      throw storeError(error);
    }
  }

  readonly readLasting = this.read.bind(this);

  snapshot<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result> {
    return this.read(() => this.reader.transaction(work));
  }

  async write<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result> {
    const until = performance.now() + RETRY_MS.inAll;
    for (let wait = RETRY_MS.least; ; wait = Math.min(RETRY_MS.most, 2 * wait)) {
      try {
        const result = await this.writer.transaction(work);
        this.changed();
        this.hasRoom = true;
        return result;
      } catch (error) {
        if (!isBusy(error)) throw this.failed(error);
        if (performance.now() > until) throw storeBusy(error);
        await setTimeout(wait * (0.5 + Math.random())); // those that wait do not all come back at once
      }
    }
  }

  private failed(cause: unknown): unknown {
    const error = storeError(cause);
    if (isStoreFull(error)) this.hasRoom = false;
    return error;
  }

  async settle(): Promise<void> {
    let { pages } = await this.checkpoint('PASSIVE');
    // where somebody writes all the time, the log is never wholly at its place, and only grows: then he waits for a moment
    for (let tries = 0; pages > MOST_LOG_PAGES && tries < RESTART_TRIES; tries++) {
      const { isBusy, pages: left } = await this.checkpoint('RESTART');
      if (!isBusy) return;
      pages = left;
      await setTimeout(10 * (0.5 + Math.random()));
    }
  }

  /** @returns  the pages of the log, and whether somebody stood in the way */
  private async checkpoint(how: 'PASSIVE' | 'RESTART'): Promise<{ pages: number; isBusy: boolean }> {
    const [{ busy, log }] = await this.writer.raw<{ busy: number; log: number }[]>(`PRAGMA wal_checkpoint(${how})`);
    return { pages: log, isBusy: busy !== 0 };
  }

  async close(): Promise<void> {
    await Promise.all([this.reader.destroy(), this.writer.destroy()]);
  }

  /** Makes the tables, or brings them up to date. */
  async migrate(): Promise<void> {
    await migrateTables(this.writer);
  }
}

const FILE = 'ledger.sqlite';

/** Opens the store in a folder, makes it where there is none, and brings its tables up to date. @param changed  as of `SqliteStore` */
export async function openSqliteStore(folder: string, changed?: () => void): Promise<SqliteStore> {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const store = new SqliteStore(folder, changed);
  await store.migrate();
  // nobody else on the machine reads it; the log beside it takes on the rights of the file
  for (const file of [FILE, `${FILE}-wal`, `${FILE}-shm`])
    if (existsSync(join(folder, file))) chmodSync(join(folder, file), 0o600);
  return store;
}

function connect(client: typeof Knex.Client, filename: string, pragmas: readonly string[]): Knex {
  return knex({
    client,
    connection: { filename },
    useNullAsDefault: true,
    pool: {
      min: 0,
      max: 1,
      // a connection that is idle stays: what it costs is to open it
      idleTimeoutMillis: 2 ** 31 - 1,
      afterCreate(
        connection: { exec: (text: string) => void },
        done: (error: Error | null, connection: unknown) => void,
      ) {
        // a kill or a power cut at any moment leaves a store that opens, with all that was entered
        for (const pragma of [...PRAGMAS, ...pragmas]) connection.exec(`PRAGMA ${pragma}`);
        done(null, connection);
      },
    },
  });
}
