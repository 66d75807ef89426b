import { requireOwn } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { writeAudited } from '$lib/server/log';
import { forgetEntry, ownerOfEntry } from '$lib/server/store/keptEntries';

export const DELETE = endpoint(
  {
    says: 'Deletes a saved formula. Ledgers that have it are left as they are.',
    refuses: ['not-allowed'],
    writes: true,
  },
  async ({ event }) => {
    const name = event.params.name!;
    await writeAudited(
      event,
      'deleted',
      async (rows) => {
        requireOwn(event, name, await ownerOfEntry(rows, name));
        return forgetEntry(rows, name);
      },
      (isGone) => (isGone ? { formula: name } : undefined),
    );
  },
);
