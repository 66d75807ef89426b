import { json } from '@sveltejs/kit';
import { ImportQuery } from '$lib/api/tapes';
import { answering, tapeOf } from '$lib/server/answer';
import { choicesOfQuery, importInto } from '$lib/server/jobs/importInto';
import { readBy } from '$lib/server/problem';
import { shownTape } from '$lib/server/store/tapes';

/** Adds a further file to a tape; what the tape has already is not doubled. */
export const POST = answering(async (event) => {
  const tape = await tapeOf(event);
  const { zone, session, weekdays, closed, closeIncluded } = tape;
  const asked = readBy(
    ImportQuery,
    { ...Object.fromEntries(event.url.searchParams), name: tape.name },
    'invalid-query',
  );
  // the calendar is the tape's own
  const query = {
    ...asked,
    zone,
    session: session ?? undefined,
    weekdays: weekdays ?? undefined,
    closed: closed ?? undefined,
    closeIncluded,
  };
  const choices = { kind: tape.kind, ...(await choicesOfQuery(event.locals.db, query)) };
  await importInto(event, { query, choices, append: true });
  return json(shownTape(await tapeOf(event)));
});
