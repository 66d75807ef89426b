import { DAY, MINUTE } from '@jaunty-ledger/core';
import { clearDeleted } from './store/tapes';
import { sweepGenerations } from './store/generations';
import type { Store } from './store/store';

/** Deleted tapes can be brought back for so long. */
const DELETED_FOR = DAY;
/** Whoever reads records that were replaced has so long to finish. */
const RETIRED_FOR = 10 * MINUTE;

export const SWEEP_EVERY_MS = 10 * 60_000;

/** Clears away what nobody can come back to. @param unfinished  what the dead left behind too: only before anything is begun */
export async function sweep(store: Store, { unfinished = false } = {}): Promise<void> {
  const now = Date.now() * 1000;
  await store.write((rows) => clearDeleted(rows, now - DELETED_FOR, now));
  await sweepGenerations(store, unfinished ? Infinity : now - RETIRED_FOR, { unfinished });
}
