import { lockFolder } from './sqlite/folderLock';
import { openSqliteStore, SqliteStore } from './sqlite/sqliteStore';
import type { Store } from './store';
import { folderOf } from './storeAddress';

/** A store that a server has opened for itself, with what it is held by. */
export interface HeldStore {
  store: Store;
  /** Closes the store, then lets others have it. */
  release: () => Promise<void>;
}

/**
 * Takes the store at an address for this server, makes it where there is none, and brings its tables up to date.
 * @param address  `sqlite:` and a folder
 * @param changed  told after each write
 * @throws in a sentence where another server has it, or nothing that is known lies at the address
 */
export async function holdStore(address: string, changed?: () => void): Promise<HeldStore> {
  const folder = folderOf(address);
  const lock = lockFolder(folder);
  const store = await openSqliteStore(folder, changed);
  return { store, release: () => store.close().finally(() => lock.release()) };
}

/** The store at an address for one more thread of the server that holds it. */
export const connectStore = (address: string): Store => new SqliteStore(folderOf(address));
