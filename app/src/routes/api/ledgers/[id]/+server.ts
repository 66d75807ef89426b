import type { RequestEvent } from '@sveltejs/kit';
import { Ledger, LedgerChange, LedgerVersion } from '$lib/api/ledgers';
import { refuse } from '$lib/api/problems';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { deleteLedger, findLedger, updateLedger } from '$lib/server/store/ledgers';

async function ledgerOf({ locals, params }: RequestEvent): Promise<Ledger> {
  const id = /^\d{1,15}$/.test(params.id!) ? Number(params.id) : undefined;
  const ledger = id === undefined ? undefined : await locals.store.read((rows) => findLedger(rows, id));
  if (!ledger) throw refuse('unknown-ledger', `There is no ledger ${params.id}. GET /api/ledgers lists them.`);
  return ledger;
}

const changedElsewhere = (has: number, made: number) =>
  refuse(
    'ledger-changed',
    `This ledger was changed in another window: it is at version ${has}, the change was made on ${made}. Load it again.`,
  );

export const GET = endpoint(
  { says: 'One ledger.', answer: Ledger, refuses: ['unknown-ledger'], writes: false },
  ({ event }) => ledgerOf(event),
);

export const PUT = endpoint(
  {
    says: 'Saves a ledger, on the version that it was changed from.',
    body: LedgerChange,
    answer: Ledger,
    refuses: ['unknown-ledger', 'ledger-changed'],
    writes: true,
  },
  async ({ event, body: change }) => {
    const { id } = await ledgerOf(event);
    const saved = await event.locals.store.write((rows) => updateLedger(rows, id, change, Date.now() * 1000));
    if (saved) return saved;
    throw changedElsewhere((await ledgerOf(event)).version, change.version);
  },
);

export const DELETE = endpoint(
  {
    says: 'Takes a ledger away, at the version that it was looked at.',
    query: LedgerVersion,
    refuses: ['unknown-ledger', 'ledger-changed'],
    writes: true,
  },
  async ({ event, query: { version } }) => {
    const { id, title } = await ledgerOf(event);
    const isGone = await event.locals.store.write((rows) => deleteLedger(rows, id, version));
    if (!isGone) throw changedElsewhere((await ledgerOf(event)).version, version);
    logged(event, 'deleted', { ledger: id, title });
  },
);
