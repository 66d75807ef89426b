import { error } from '@sveltejs/kit';
import { handovers } from '$lib/server/store/handovers';
import { listLedgers } from '$lib/server/http/ledgers';
import { listTapes, shownTape } from '$lib/server/store/tapes';

export async function load({ locals, params }) {
  return locals.store.read(async (rows) => {
    const page = /^\d{1,15}$/.test(params.id) ? await handovers.find(rows, Number(params.id)) : undefined;
    if (!page) error(404, `There is no page ${params.id.slice(0, 20)} to hand over.`);
    return { page, ledgers: await listLedgers(rows, locals), tapes: (await listTapes(rows)).map(shownTape) };
  });
}
