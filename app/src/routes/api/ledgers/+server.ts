import { z } from 'zod';
import { Ledger, NewLedger } from '$lib/api/ledgers';
import { made } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { listLedgers } from '$lib/server/http/ledgers';
import { ledgers } from '$lib/server/store/ledgers';

export const GET = endpoint(
  { says: 'All ledgers, the one saved last first.', answer: z.array(Ledger), writes: false },
  ({ event: { locals } }) => locals.store.read((rows) => listLedgers(rows, locals)),
);

export const POST = endpoint(
  { says: 'Makes a ledger.', body: NewLedger, answer: Ledger, status: 201, writes: true },
  ({ event, body: ledger }) =>
    event.locals.store.write(async (rows) => {
      const kept = await ledgers.insert(rows, ledger, Date.now() * 1000);
      await made(event, rows, 'ledger', kept.id);
      return kept;
    }),
);
