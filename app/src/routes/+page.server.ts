import { redirect } from '@sveltejs/kit';
import { lastLedger } from '$lib/server/http/ledgers';

/** The book opens where it was closed: at one's own ledger saved last, else at the records. */
export async function load({ locals }) {
  const last = await locals.store.read((rows) => lastLedger(rows, locals));
  redirect(307, last ? `/ledger/${last.id}` : '/records');
}
