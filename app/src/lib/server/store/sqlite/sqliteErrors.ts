import { KeyTakenError, storeFull } from '../store';

const codeOf = (error: unknown): string => (error instanceof Error && 'code' in error ? String(error.code) : '');

/** Whether another connection is writing. */
export const isBusy = (error: unknown): boolean => /^SQLITE_(BUSY|LOCKED)/.test(codeOf(error));

/** An error of the engine or the file system as one of the store; any other as it is. */
export function sqliteError(error: unknown): unknown {
  const code = codeOf(error);
  if (code === 'ENOSPC' || /^SQLITE_(FULL|IOERR)/.test(code)) return storeFull(error);
  if (/^SQLITE_CONSTRAINT_(UNIQUE|PRIMARYKEY)/.test(code))
    return new KeyTakenError('a row of the same key is there already', { cause: error });
  return error;
}
