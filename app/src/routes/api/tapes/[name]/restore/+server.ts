import { json } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { answering } from '$lib/server/answer';
import { findDeleted, findTape, restoreTape, shownTape } from '$lib/server/store/tapes';

/** Brings back the tape of a name that was deleted last. */
export const POST = answering(async ({ locals, params }) => {
  const name = params.name!;
  const deleted = await findDeleted(locals.db, name);
  if (!deleted) throw refuse('unknown-tape', `No tape called ${name} was deleted within the last day.`);
  if (await findTape(locals.db, name))
    throw refuse('name-taken', `Another tape is called ${name} by now. Rename it first.`);
  await restoreTape(locals.db, deleted);
  return json(shownTape(deleted));
});
