import { error, redirect } from '@sveltejs/kit';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { lastLedger } from '$lib/server/store/ledgers';
import { findTape, listTapes, shownTape } from '$lib/server/store/tapes';

/** Of a tape that is named, else of that of the ledger saved last; with the bars that its last ledger has. */
export async function load({ locals, url }) {
  const name = url.searchParams.get('tape');
  return locals.store.read(async (rows) => {
    const last = await lastLedger(rows, name ?? undefined);
    const tapes = (await listTapes(rows)).map(shownTape);
    if (tapes.length === 0) redirect(307, '/records');
    const tape = await findTape(rows, name ?? last?.body.tape ?? tapes[0].name);
    if (!tape) error(404, `No tape is called ${(name ?? '').slice(0, 100)}.`);
    const { tape: of, rule } = last?.body ?? ledgerFor(shownTape(tape)).body;
    return { tapes, usual: { tape: of, bars: rule } };
  });
}
