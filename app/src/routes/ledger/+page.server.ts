import { error, redirect } from '@sveltejs/kit';
import { firstLedger } from '$lib/api/ledgers';
import { insertLedger, listLedgers } from '$lib/server/store/ledgers';
import { findTape } from '$lib/server/store/tapes';

/** `?tape=KELP` opens the last ledger of a tape, or its first; without, the one saved last. */
export async function load({ locals, url }) {
  const ledgers = await listLedgers(locals.db);
  const name = url.searchParams.get('tape');
  if (name === null) redirect(307, ledgers.length > 0 ? `/ledger/${ledgers[0].id}` : '/records');
  const tape = await findTape(locals.db, name);
  if (!tape) error(404, `No tape is called ${name}.`);
  const known = ledgers.find(({ body }) => body.tape === tape.name);
  const rule = tape.interval === '1 day' ? '1 day' : '15 minutes';
  const ledger = known ?? (await insertLedger(locals.db, firstLedger(tape.name, rule), Date.now() * 1000));
  redirect(307, `/ledger/${ledger.id}`);
}
