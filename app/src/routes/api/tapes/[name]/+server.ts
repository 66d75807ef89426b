import { json } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { TapeChange } from '$lib/api/tapes';
import { answering, jsonBody, tapeOf } from '$lib/server/answer';
import { readBy } from '$lib/server/problem';
import { renameInLedgers } from '$lib/server/store/ledgers';
import { changeTape, deleteTape, findTape, shownTape } from '$lib/server/store/tapes';

export const GET = answering(async (event) => json(shownTape(await tapeOf(event))));

/** Renames a tape, or changes its calendar, unit or note. Ledgers follow a new name. */
export const PATCH = answering(async (event) => {
  const change = readBy(TapeChange, await jsonBody(event.request), 'invalid-body');
  const tape = await tapeOf(event);
  await event.locals.db.transaction(async (transaction) => {
    if (change.name !== undefined && change.name !== tape.name) {
      const other = await findTape(transaction, change.name);
      if (other && other.id !== tape.id) throw refuse('name-taken', `A tape is called ${change.name} already.`);
      await renameInLedgers(transaction, tape.name, change.name);
    }
    await changeTape(transaction, tape, change);
  });
  return json(shownTape(await tapeOf(event, change.name ?? tape.name)));
});

/** Takes a tape off the shelf. `POST …/restore` brings it back within a day. */
export const DELETE = answering(async (event) => {
  await deleteTape(event.locals.db, await tapeOf(event), Date.now() * 1000);
  return new Response(null, { status: 204 });
});
