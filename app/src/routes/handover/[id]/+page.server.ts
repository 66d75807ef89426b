import { error } from '@sveltejs/kit';
import { seenDocument } from '$lib/server/http/documents';
import { HANDOVERS } from '$lib/server/http/handovers';
import { ledgerChoices } from '$lib/server/http/ledgers';
import { listTapes } from '$lib/server/store/tapes';
import { shownTape } from '$lib/server/store/tapeRows';

export async function load({ locals, params }) {
  return locals.store.read(async (rows) => {
    const page = await seenDocument(rows, locals, HANDOVERS, params.id);
    if (!page) error(404, `There is no page ${params.id.slice(0, 20)} to hand over.`);
    return { page, ledgers: await ledgerChoices(rows, locals), tapes: (await listTapes(rows)).map(shownTape) };
  });
}
