import { z } from 'zod';
import { KeptEntry } from '$lib/api/keptEntries';
import { endpoint } from '$lib/server/http/endpoint';
import { keepEntry, listKeptEntries } from '$lib/server/store/keptEntries';

export const GET = endpoint(
  { says: 'Formulas kept for every ledger, the newest first.', answer: z.array(KeptEntry), writes: false },
  ({ event }) => event.locals.store.read(listKeptEntries),
);

export const POST = endpoint(
  {
    says: 'Keeps a formula under its name, for every ledger.',
    body: KeptEntry,
    answer: KeptEntry,
    status: 201,
    writes: true,
  },
  async ({ event, body: entry }) => {
    await event.locals.store.write((rows) => keepEntry(rows, entry, Date.now() * 1000));
    return entry;
  },
);
