import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DatabaseSync } from '@photostructure/sqlite';
import { isBusy } from './sqliteErrors';

/** Held by one server at a time. */
interface FolderLock {
  release(): void;
}

/** Says whose the lock is, where there is room to: it is the lock that counts. */
function noteOwner(file: string): void {
  try {
    writeFileSync(file, `${process.pid}\n`, { mode: 0o600 });
  } catch (error) {
    if (!(error instanceof Error && 'code' in error && error.code === 'ENOSPC')) throw error;
  }
}

/**
 * Takes a folder for this process: a second server on it would clear away what the first is working on. The lock is one of
 * the operating system's, on a database that holds nothing, so it goes with the process however that ends.
 * @throws where another process has it
 */
export function lockFolder(folder: string): FolderLock {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const owner = join(folder, 'server.pid');
  const lock = new DatabaseSync(join(folder, 'lock.sqlite'), { timeout: 0 });
  try {
    lock.exec('BEGIN EXCLUSIVE');
  } catch (error) {
    lock.close();
    if (!isBusy(error)) throw error;
    throw new Error(
      `Another server, process ${pidIn(owner)}, works with the folder ${folder}. Stop it, or set JAUNTY_DATA to another folder.`,
      { cause: error },
    );
  }
  noteOwner(owner);
  return { release: () => void lock.close() };
}

function pidIn(file: string): string {
  // it writes its number after it has taken the folder
  return existsSync(file) ? readFileSync(file, 'utf8').trim() : 'unknown';
}
