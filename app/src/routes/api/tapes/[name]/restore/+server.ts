import { refuse } from '$lib/api/problems';
import { TapeDetails } from '$lib/api/tapes';
import { requireChangeIn } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { findDeleted, restoreTape } from '$lib/server/store/tapes';
import { shownDetails } from '$lib/server/store/tapeRows';

export const POST = endpoint(
  {
    says: 'Brings back the tape of a name that was deleted last, within a day.',
    answer: TapeDetails,
    refuses: ['unknown-tape', 'name-taken', 'not-allowed'],
    writes: true,
  },
  async ({ event }) => {
    const name = event.params.name!;
    const tape = await event.locals.store.write(async (rows) => {
      const deleted = await findDeleted(rows, name);
      if (!deleted) throw refuse('unknown-tape', `No tape called ${name} was deleted within the last day.`);
      await requireChangeIn(rows, event, 'tape', deleted.id);
      await restoreTape(rows, deleted);
      return deleted;
    });
    logged(event, 'restored', { tape: name });
    return shownDetails(tape);
  },
);
