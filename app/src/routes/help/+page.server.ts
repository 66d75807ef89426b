import { findTape, listTapes } from '$lib/server/store/tapes';

/** The tape that examples are worked out on: the demo's, else any. */
export async function load({ locals }) {
  const tape = (await findTape(locals.db, 'KELP')) ?? (await listTapes(locals.db))[0];
  return { tape: tape?.name };
}
