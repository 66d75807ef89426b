import { json } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { ImportQuery } from '$lib/api/tapes';
import { answering } from '$lib/server/answer';
import { importTape } from '$lib/server/jobs/importTape';
import { readBy } from '$lib/server/problem';
import { findTape, listTapes, shownTape } from '$lib/server/store/tapes';

export const GET = answering(async ({ locals }) => json((await listTapes(locals.db)).map(shownTape)));

export const POST = answering(async ({ request, url, locals }) => {
  const query = readBy(ImportQuery, Object.fromEntries(url.searchParams), 'invalid-query');
  // asked again when the tape is entered; here so that a long upload is not in vain
  if (await findTape(locals.db, query.name))
    throw refuse(
      'name-taken',
      `A tape is called ${query.name} already. Choose another name, or delete that tape first.`,
    );
  // a request without a body is a file without a line
  await importTape(request.body ?? new Blob([]).stream(), query, request.signal);
  const tape = await findTape(locals.db, query.name);
  return json(shownTape(tape!), { status: 201, headers: { location: `/api/tapes/${query.name}` } });
});
