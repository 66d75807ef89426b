import { error, redirect } from '@sveltejs/kit';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { ledgers } from '$lib/server/store/ledgers';
import { listKeptEntries } from '$lib/server/store/keptEntries';
import { findTape, listTapes, shownTape } from '$lib/server/store/tapes';

/**
 * `?tape=KELP` opens the last ledger of a tape; without, the one saved last. A tape without one opens with a draft, which
 * becomes a ledger with its first change: to look writes nothing.
 */
export async function load({ locals, url }) {
  const name = url.searchParams.get('tape');
  const last = await locals.store.read((rows) => ledgers.last(rows, name ?? undefined));
  // a formula that is brought along is put where entries are written, and entered by whoever looks at it
  const written = url.searchParams.get('write');
  if (last) redirect(307, `/ledger/${last.id}${written === null ? '' : `?${new URLSearchParams({ write: written })}`}`);
  if (name === null) redirect(307, '/records');
  return locals.store.read(async (rows) => {
    const tape = await findTape(rows, name);
    if (!tape) error(404, `No tape is called ${name.slice(0, 100)}.`);
    const tapes = (await listTapes(rows)).map(shownTape);
    return { draft: ledgerFor(shownTape(tape)), kept: await listKeptEntries(rows), tapes };
  });
}
