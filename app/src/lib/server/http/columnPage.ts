import { error, redirect } from '@sveltejs/kit';
import type { PageBody } from '$lib/api/pages';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { seenDocument } from './documents';
import { PAGES } from './pages';
import { findTape, listTapes } from '../store/tapes';
import { shownTape } from '../store/tapeRows';
import type { Visitor } from '../auth/sharing';
import { lastLedger } from './ledgers';

/**
 * What a page about one column starts from: the tape that its address names, else that of the ledger saved last, if it is
 * still on the shelf, else the first; with the bars that its last ledger has; and the page that is kept under a number, where it names one.
 */
export async function columnPage(locals: Visitor & Pick<App.Locals, 'store'>, address: URL, page: PageBody['page']) {
  const name = address.searchParams.get('tape');
  const number = address.searchParams.get('kept');
  return locals.store.read(async (rows) => {
    const stored = number ? await seenDocument(rows, locals, PAGES, number) : undefined;
    const kept = stored?.body.page === page ? stored : undefined;
    if (number && !kept) error(404, `No saved page has number ${number.slice(0, 20)}.`);
    const tapes = (await listTapes(rows)).map(shownTape);
    if (tapes.length === 0) redirect(307, '/records');
    const remembered = await lastLedger(rows, locals, name ?? undefined);
    // a ledger outlives its tape: one whose tape is gone says nothing about where to start
    const wanted = name ?? remembered?.body.tape;
    const found = wanted === undefined ? undefined : await findTape(rows, wanted);
    if (name !== null && !found) error(404, `No tape is called ${name.slice(0, 100)}.`);
    const last = found && remembered;
    const { tape: of, rule } = last?.body ?? ledgerFor(found ? shownTape(found) : tapes[0]).body;
    const entry = tapes.find(({ name: one }) => one === of)?.valueName ?? 'close';
    return { tapes, kept, usual: { tape: of, bars: rule, entry } };
  });
}
