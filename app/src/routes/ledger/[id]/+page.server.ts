import { error } from '@sveltejs/kit';
import { listKeptEntries } from '$lib/server/store/keptEntries';
import { findLedger } from '$lib/server/http/ledgers';
import { listTapes } from '$lib/server/store/tapes';
import { shownTape } from '$lib/server/store/tapeRows';

export async function load({ locals, params }) {
  return locals.store.read(async (rows) => {
    const ledger = await findLedger(rows, locals, params.id);
    if (!ledger) error(404, 'There is no such ledger. The tab Ledger opens the one you saved last.');
    return { ledger, kept: await listKeptEntries(rows), tapes: (await listTapes(rows)).map(shownTape) };
  });
}
