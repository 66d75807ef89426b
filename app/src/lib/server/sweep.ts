import { DAY, HOUR, MINUTE } from '@jaunty-ledger/core';
import { clearDeleted } from './store/tapes';
import { sweepStretches } from './store/barStretches';
import { sweepJobs } from './store/jobs';
import { sweepSessions } from './store/sessions';
import { sweepLinks } from './store/pageLinks';
import { sweepProgress } from './store/importProgress';
import { sweepGenerations } from './store/generations';
import type { Store } from './store/store';

/** Deleted tapes can be brought back for so long. */
const DELETED_FOR = DAY;
/** Whoever reads records that were replaced has so long to finish. */
const RETIRED_FOR = 10 * MINUTE;

export const SWEEP_EVERY_MS = 10 * 60_000;

/** Whoever makes a generation on another server writes on it more often, even where its clock is minutes apart. */
const UNFINISHED_FOR = HOUR;

/** Clears away what nobody can come back to. @param isStart  before this server has begun anything itself */
export async function sweep(store: Store, { isStart = false } = {}): Promise<void> {
  const now = Date.now() * 1000;
  const unfinishedBefore = store.isShared ? now - UNFINISHED_FOR : isStart ? Infinity : undefined;
  await store.write(async (rows) => {
    await clearDeleted(rows, now - DELETED_FOR, now);
    await sweepProgress(rows, (now - DELETED_FOR) / 1000);
    await sweepSessions(rows, now / 1000);
    await sweepLinks(rows, now);
    await sweepStretches(rows, (now - DELETED_FOR) / 1000);
  });
  await sweepJobs(store, (now - UNFINISHED_FOR) / 1000);
  const nobodyReads = isStart && !store.isShared;
  await sweepGenerations(store, nobodyReads ? Infinity : now - RETIRED_FOR, unfinishedBefore);
}
