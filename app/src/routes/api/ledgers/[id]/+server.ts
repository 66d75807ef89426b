import { json, type RequestEvent } from '@sveltejs/kit';
import { LedgerChange, type Ledger } from '$lib/api/ledgers';
import { refuse } from '$lib/api/problems';
import { answering, jsonBody } from '$lib/server/answer';
import { readBy } from '$lib/server/problem';
import { deleteLedger, findLedger, updateLedger } from '$lib/server/store/ledgers';

async function ledgerOf({ locals, params }: RequestEvent): Promise<Ledger> {
  const ledger = /^\d+$/.test(params.id!) ? await findLedger(locals.db, Number(params.id)) : undefined;
  if (!ledger) throw refuse('unknown-ledger', `There is no ledger ${params.id}. GET /api/ledgers lists them.`);
  return ledger;
}

export const GET = answering(async (event) => json(await ledgerOf(event)));

export const PUT = answering(async (event) => {
  const change = readBy(LedgerChange, await jsonBody(event.request), 'invalid-body');
  const { id, version } = await ledgerOf(event);
  const saved = await updateLedger(event.locals.db, id, change, Date.now() * 1000);
  if (saved) return json(saved);
  throw refuse(
    'ledger-changed',
    `This ledger was changed in another window: it is at version ${version}, the change was made on ${change.version}. Load it again.`,
  );
});

export const DELETE = answering(async (event) => {
  await deleteLedger(event.locals.db, (await ledgerOf(event)).id);
  return new Response(null, { status: 204 });
});
