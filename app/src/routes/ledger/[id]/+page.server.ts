import { error } from '@sveltejs/kit';
import { listKeptEntries } from '$lib/server/store/keptEntries';
import { findLedger } from '$lib/server/store/ledgers';
import { listTapes, shownTape } from '$lib/server/store/tapes';

export async function load({ locals, params }) {
  const ledger = /^\d+$/.test(params.id) ? await findLedger(locals.db, Number(params.id)) : undefined;
  if (!ledger) error(404, 'There is no such ledger. The tab Ledger opens the one you saved last.');
  return { ledger, kept: await listKeptEntries(locals.db), tapes: (await listTapes(locals.db)).map(shownTape) };
}
