import { json } from '@sveltejs/kit';
import { answering, tapeOf } from '$lib/server/answer';
import { deleteTape, shownTape } from '$lib/server/store/tapes';

export const GET = answering(async (event) => json(shownTape(await tapeOf(event))));

export const DELETE = answering(async (event) => {
  const tape = await tapeOf(event);
  await deleteTape(event.locals.db, tape.name);
  return new Response(null, { status: 204 });
});
