import { redirect } from '@sveltejs/kit';
import { listLedgers } from '$lib/server/store/ledgers';

/** The book opens where it was closed: at the ledger saved last, else at the records. */
export async function load({ locals }) {
  const [last] = await listLedgers(locals.db);
  redirect(307, last ? `/ledger/${last.id}` : '/records');
}
