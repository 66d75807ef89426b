import { z } from 'zod';
import { KeptEntry } from '$lib/api/keptEntries';
import { endpoint } from '$lib/server/http/endpoint';
import { ownerOfNamed, requireOwn } from '$lib/server/auth/sharing';
import { writeAudited } from '$lib/server/log';
import { keepEntry, listKeptEntries, ownerOfEntry } from '$lib/server/store/keptEntries';

export const GET = endpoint(
  { says: 'Formulas saved for every ledger, newest first.', answer: z.array(KeptEntry), writes: false },
  ({ event }) => event.locals.store.read(listKeptEntries),
);

export const POST = endpoint(
  {
    says: 'Saves a formula under its name, for every ledger.',
    body: KeptEntry,
    answer: KeptEntry,
    status: 201,
    refuses: ['not-allowed'],
    writes: true,
  },
  ({ event, body: entry }) =>
    writeAudited(
      event,
      'saved',
      async (rows) => {
        const now = await ownerOfEntry(rows, entry.name);
        requireOwn(event, entry.name, now);
        await keepEntry(rows, entry, { owner: ownerOfNamed(event, now), at: Date.now() * 1000 });
        return entry;
      },
      ({ name }) => ({ formula: name }),
    ),
);
