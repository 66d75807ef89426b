import { findTape, firstTape } from '$lib/server/store/tapes';
import { shownTape } from '$lib/server/store/tapeRows';

/** The tape that examples are worked out on: the demo's, else any. */
export async function load({ locals }) {
  const tape = await locals.store.read(async (rows) => (await findTape(rows, 'KELP')) ?? (await firstTape(rows)));
  return { tape: tape && shownTape(tape) };
}
