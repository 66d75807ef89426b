import { error, redirect } from '@sveltejs/kit';
import { ledgerFor } from '$lib/ledger/firstLedger';
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
  const ledger = known ?? (await insertLedger(locals.db, ledgerFor(tape), Date.now() * 1000));
  redirect(307, `/ledger/${ledger.id}`);
}
