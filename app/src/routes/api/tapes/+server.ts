import { json } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { ImportQuery } from '$lib/api/tapes';
import { answering } from '$lib/server/answer';
import { choicesOfQuery, importInto } from '$lib/server/jobs/importInto';
import { readBy } from '$lib/server/problem';
import { findTape, listTapes, shownTape } from '$lib/server/store/tapes';

export const GET = answering(async ({ locals }) => json((await listTapes(locals.db)).map(shownTape)));

/** Enters a file. It answers with the tape, or with all of them where the file makes several. */
export const POST = answering(async (event) => {
  const query = readBy(ImportQuery, Object.fromEntries(event.url.searchParams), 'invalid-query');
  // asked again when the tape is entered; here so that a long upload is not in vain
  if (await findTape(event.locals.db, query.name))
    throw refuse(
      'name-taken',
      `A tape is called ${query.name} already. Choose another name, or delete that tape first.`,
    );
  const names = await importInto(event, {
    query,
    choices: await choicesOfQuery(event.locals.db, query),
    append: false,
  });
  const tapes = (await listTapes(event.locals.db)).filter(({ name }) => names.includes(name)).map(shownTape);
  const [first] = tapes;
  return json(tapes.length > 1 ? { tapes } : first, { status: 201, headers: { location: `/api/tapes/${first.name}` } });
});
