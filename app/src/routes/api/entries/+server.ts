import { json } from '@sveltejs/kit';
import { KeptEntry } from '$lib/api/keptEntries';
import { answering, jsonBody } from '$lib/server/answer';
import { readBy } from '$lib/server/problem';
import { keepEntry, listKeptEntries } from '$lib/server/store/keptEntries';

export const GET = answering(async ({ locals }) => json(await listKeptEntries(locals.db)));

/** Keeps a formula for other ledgers. */
export const POST = answering(async ({ request, locals }) => {
  const entry = readBy(KeptEntry, await jsonBody(request), 'invalid-body');
  await keepEntry(locals.db, entry, Date.now() * 1000);
  return json(entry, { status: 201 });
});
