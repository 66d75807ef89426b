import { error, redirect } from '@sveltejs/kit';
import { fittingOrSame } from '$lib/api/fittingRule';
import type { Ledger, NewLedger } from '$lib/api/ledgers';
import type { Tape } from '$lib/api/tapes';
import { ledgerFor } from '$lib/ledger/firstLedger';
import { findLedger, lastLedger } from '$lib/server/http/ledgers';
import { listKeptEntries } from '$lib/server/store/keptEntries';
import { findTape, listTapes } from '$lib/server/store/tapes';
import { shownTape } from '$lib/server/store/tapeRows';

/**
 * `?tape=KELP` opens the last ledger of a tape; without, the one saved last. A tape without one opens with a draft, which
 * becomes a ledger with its first change: to look writes nothing. `?tape=SALT&like=3` opens a draft of ledger 3 on another tape.
 */
export async function load({ locals, url }) {
  const name = url.searchParams.get('tape');
  const last = await locals.store.read((rows) => lastLedger(rows, locals, name ?? undefined));
  // a formula that is brought along is put where entries are written, and entered by whoever looks at it
  const written = url.searchParams.get('write');
  const like = url.searchParams.get('like');
  if (last && like === null)
    redirect(307, `/ledger/${last.id}${written === null ? '' : `?${new URLSearchParams({ write: written })}`}`);
  if (name === null) redirect(307, '/records');
  return locals.store.read(async (rows) => {
    const tape = await findTape(rows, name);
    if (!tape) error(404, `No tape is called ${name.slice(0, 100)}.`);
    const tapes = (await listTapes(rows)).map(shownTape);
    const other = like !== null ? await findLedger(rows, locals, like) : undefined;
    if (other?.body.tape === tape.name) redirect(307, `/ledger/${other.id}`);
    const draft = other ? onTape(other, shownTape(tape)) : ledgerFor(shownTape(tape));
    return { draft, kept: await listKeptEntries(rows), tapes };
  });
}

/** A ledger on another tape, as its draft. */
function onTape({ title, body }: Ledger, tape: Tape): NewLedger {
  const named = title.includes(body.tape) ? title.replaceAll(body.tape, tape.name) : `${title}, ${tape.name}`;
  return {
    title: named.slice(0, 120),
    body: { ...body, tape: tape.name, rule: fittingOrSame(body.rule, tape), view: null, alone: null, notes: [] },
  };
}
