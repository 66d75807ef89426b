import { redirect } from '@sveltejs/kit';
import { lastLedger } from '$lib/server/store/ledgers';

/** The book opens where it was closed: at the ledger saved last, else at the records. */
export async function load({ locals }) {
  const last = await locals.store.read((rows) => lastLedger(rows));
  redirect(307, last ? `/ledger/${last.id}` : '/records');
}
