import { error, redirect } from '@sveltejs/kit';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { ledgers } from '$lib/server/store/ledgers';
import { pages } from '$lib/server/store/pages';
import { findTape, listTapes, shownTape } from '$lib/server/store/tapes';

/** Of a tape that is named, else of that of the ledger saved last; with the bars that its last ledger has. */
export async function load({ locals, url }) {
  const name = url.searchParams.get('tape');
  return locals.store.read(async (rows) => {
    const number = url.searchParams.get('kept');
    const kept = number && /^\d{1,15}$/.test(number) ? await pages.find(rows, Number(number)) : undefined;
    if (number && !kept) error(404, `No examination is kept as number ${number.slice(0, 20)}.`);
    const last = await ledgers.last(rows, name ?? undefined);
    const tapes = (await listTapes(rows)).map(shownTape);
    if (tapes.length === 0) redirect(307, '/records');
    const tape = await findTape(rows, name ?? last?.body.tape ?? tapes[0].name);
    if (!tape) error(404, `No tape is called ${(name ?? '').slice(0, 100)}.`);
    const { tape: of, rule } = last?.body ?? ledgerFor(shownTape(tape)).body;
    return { tapes, kept, usual: { tape: of, bars: rule } };
  });
}
