import { error } from '@sveltejs/kit';
import { listKeptEntries } from '$lib/server/store/keptEntries';
import { ledgers } from '$lib/server/store/ledgers';
import { listTapes, shownTape } from '$lib/server/store/tapes';

export async function load({ locals, params }) {
  return locals.store.read(async (rows) => {
    const ledger = /^\d{1,15}$/.test(params.id) ? await ledgers.find(rows, Number(params.id)) : undefined;
    if (!ledger) error(404, 'There is no such ledger. The tab Ledger opens the one you saved last.');
    return { ledger, kept: await listKeptEntries(rows), tapes: (await listTapes(rows)).map(shownTape) };
  });
}
