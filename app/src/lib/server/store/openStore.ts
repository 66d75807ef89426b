import { openPostgresStore, PostgresStore } from './postgres/postgresStore';
import type { JobQueue } from './jobQueue';
import { lockFolder } from './sqlite/folderLock';
import { openSqliteStore, SqliteStore } from './sqlite/sqliteStore';
import type { Store } from './store';
import { folderOf, isOnServer } from './storeAddress';

/** A store that a server has opened for itself, with what it is held by. */
export interface HeldStore {
  store: Store;
  /** Closes the store, then lets others have it. */
  release: () => Promise<void>;
}

/**
 * Takes the store at an address for this server, makes it where there is none, and brings its tables up to date. One in a
 * folder is this server's alone; one on a database server is shared with others.
 * @param changed     told after each write to a folder
 * @param workFolder  of files on their way in, which is this server's alone wherever the store is
 * @param readAddress of a standby of the database, which chunks are read from
 * @throws in a sentence where another server has it, or nothing that is known lies at the address
 */
export async function holdStore(
  address: string,
  { changed, workFolder, readAddress }: { changed?: () => void; workFolder?: string; readAddress?: string } = {},
): Promise<HeldStore> {
  if (isOnServer(address)) {
    const lock = workFolder === undefined ? undefined : lockFolder(workFolder);
    const store = await openPostgresStore(address, readAddress);
    return { store, release: () => store.close().finally(() => lock?.release()) };
  }
  const folder = folderOf(address);
  const lock = lockFolder(folder);
  const store = await openSqliteStore(folder, changed);
  return { store, release: () => store.close().finally(() => lock.release()) };
}

/** The store at an address for one more thread of the server that holds it. */
export const connectStore = (address: string, readAddress?: string): Store =>
  isOnServer(address) ? new PostgresStore(address, readAddress) : new SqliteStore(folderOf(address));

/** The queue of the servers that share the store at an address; none where one server has it alone. */
export async function connectJobQueue(address: string): Promise<JobQueue | undefined> {
  if (!isOnServer(address)) return undefined;
  // loaded here alone: a server with a folder has no queue, nor have threads
  const { PostgresJobQueue } = await import('./postgres/postgresJobQueue');
  return PostgresJobQueue.open(address);
}
