import { error, redirect } from '@sveltejs/kit';
import type { PageBody } from '$lib/api/pages';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { ledgers } from '../store/ledgers';
import { pages } from '../store/pages';
import type { Store } from '../store/store';
import { findTape, listTapes, shownTape } from '../store/tapes';

/**
 * What a page about one column starts from: the tape that its address names, else that of the ledger saved last, with the
 * bars that its last ledger has; and the page that is kept under a number, where it names one.
 */
export async function columnPage(store: Store, address: URL, page: PageBody['page']) {
  const name = address.searchParams.get('tape');
  const number = address.searchParams.get('kept');
  return store.read(async (rows) => {
    const found = number && /^\d{1,15}$/.test(number) ? await pages.find(rows, Number(number)) : undefined;
    const kept = found?.body.page === page ? found : undefined;
    if (number && !kept) error(404, `No such page is kept as number ${number.slice(0, 20)}.`);
    const last = await ledgers.last(rows, name ?? undefined);
    const tapes = (await listTapes(rows)).map(shownTape);
    if (tapes.length === 0) redirect(307, '/records');
    const tape = await findTape(rows, name ?? last?.body.tape ?? tapes[0].name);
    if (!tape) error(404, `No tape is called ${(name ?? '').slice(0, 100)}.`);
    const { tape: of, rule } = last?.body ?? ledgerFor(shownTape(tape)).body;
    return { tapes, kept, usual: { tape: of, bars: rule } };
  });
}
