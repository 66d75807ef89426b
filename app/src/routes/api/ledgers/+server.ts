import { json } from '@sveltejs/kit';
import { NewLedger } from '$lib/api/ledgers';
import { answering, jsonBody } from '$lib/server/answer';
import { readBy } from '$lib/server/problem';
import { insertLedger, listLedgers } from '$lib/server/store/ledgers';

export const GET = answering(async ({ locals }) => json(await listLedgers(locals.db)));

export const POST = answering(async ({ request, locals }) => {
  const ledger = readBy(NewLedger, await jsonBody(request), 'invalid-body');
  return json(await insertLedger(locals.db, ledger, Date.now() * 1000), { status: 201 });
});
