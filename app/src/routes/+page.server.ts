import { redirect } from '@sveltejs/kit';
import { ledgers } from '$lib/server/store/ledgers';

/** The book opens where it was closed: at the ledger saved last, else at the records. */
export async function load({ locals }) {
  const last = await locals.store.read((rows) => ledgers.last(rows));
  redirect(307, last ? `/ledger/${last.id}` : '/records');
}
