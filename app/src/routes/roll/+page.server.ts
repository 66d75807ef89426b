import { error, redirect } from '@sveltejs/kit';
import { ledgerChoices } from '$lib/server/http/ledgers';
import { seenDocument } from '$lib/server/http/documents';
import { PAGES } from '$lib/server/http/pages';
import { listTapes } from '$lib/server/store/tapes';
import { shownTape } from '$lib/server/store/tapeRows';

/** What a roll starts from: all tapes, all ledgers, the last of them first, and the roll that is kept under a number. */
export async function load({ locals, url }) {
  const number = url.searchParams.get('kept');
  return locals.store.read(async (rows) => {
    const found = number ? await seenDocument(rows, locals, PAGES, number) : undefined;
    const kept = found?.body.page === 'roll' ? found : undefined;
    if (number && !kept) error(404, `No saved roll has number ${number.slice(0, 20)}.`);
    const tapes = (await listTapes(rows)).map(shownTape);
    if (tapes.length === 0) redirect(307, '/records');
    return { tapes, kept, ledgers: await ledgerChoices(rows, locals) };
  });
}
