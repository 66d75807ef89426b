import { json } from '@sveltejs/kit';
import { TapeChange } from '$lib/api/tapes';
import { answering, jsonBody, rangeOf, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';
import { readBy } from '$lib/server/problem';
import { deleteTape, shownTape } from '$lib/server/store/tapes';

export const GET = answering(async (event) => json(shownTape(await tapeOf(event))));

/** Renames a tape, or changes its calendar, unit or note. A new calendar goes through all records, so a thread does it. */
export const PATCH = answering(async (event) => {
  const change = readBy(TapeChange, await jsonBody(event.request), 'invalid-body');
  const tape = await tapeOf(event);
  await compute({ kind: 'change', tape, change, range: rangeOf({}), format: 'json' });
  return json(shownTape(await tapeOf(event, change.name ?? tape.name)));
});

/** Takes a tape off the shelf. `POST …/restore` brings it back within a day. */
export const DELETE = answering(async (event) => {
  await deleteTape(event.locals.db, await tapeOf(event), Date.now() * 1000);
  return new Response(null, { status: 204 });
});
