import { KeyTakenError, storeFull } from '../store';

/* Result codes of the engine. The lowest byte is the primary code, which extended ones refine. */
const BUSY = 5;
const LOCKED = 6;
const IO_ERROR = 10;
const FULL = 13;
const CONSTRAINT_PRIMARY_KEY = 1555;
const CONSTRAINT_UNIQUE = 2067;

const resultCode = (error: unknown): number =>
  error instanceof Error && 'errcode' in error ? Number(error.errcode) : 0;
const primaryCode = (error: unknown): number => resultCode(error) & 0xff;

/** Whether another connection is writing. */
export const isBusy = (error: unknown): boolean => [BUSY, LOCKED].includes(primaryCode(error));

/** An error of the engine or the file system as one of the store; any other as it is. */
export function sqliteError(error: unknown): unknown {
  const isDiskFull = error instanceof Error && 'code' in error && error.code === 'ENOSPC';
  if (isDiskFull || [FULL, IO_ERROR].includes(primaryCode(error))) return storeFull(error);
  if ([CONSTRAINT_UNIQUE, CONSTRAINT_PRIMARY_KEY].includes(resultCode(error)))
    return new KeyTakenError('a row of the same key is there already', { cause: error });
  return error;
}
