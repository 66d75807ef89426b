import { endpoint } from '$lib/server/http/endpoint';
import { forgetEntry } from '$lib/server/store/keptEntries';

export const DELETE = endpoint(
  { says: 'Keeps a formula no longer. Ledgers that have it are left as they are.', writes: true },
  ({ event }) => event.locals.store.write((rows) => forgetEntry(rows, event.params.name!)),
);
