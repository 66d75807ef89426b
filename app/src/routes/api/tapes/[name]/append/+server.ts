import { WEEKDAYS } from '@jaunty-ledger/core';
import { AppendQuery, TapeDetails } from '$lib/api/tapes';
import { requireChange } from '$lib/server/auth/sharing';
import { tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { choicesOfQuery, importInto } from '$lib/server/imports/importInto';
import { withTapeHeld } from '$lib/server/live/liveService';
import { logged } from '$lib/server/log';
import { shownDetails } from '$lib/server/store/tapeRows';

export const POST = endpoint(
  {
    says: 'Adds a further file to a tape; what the tape has already is not doubled. The calendar is that of the tape.',
    query: AppendQuery,
    takesFile: true,
    answer: TapeDetails,
    refuses: [
      'unknown-tape',
      'not-allowed',
      'tape-changed',
      'damaged-tape',
      'empty-file',
      'no-time-column',
      'no-price-column',
      'unreadable-lines',
      'date-order-open',
      'decimal-open',
      'broken-body',
      'too-many-tapes',
      'too-many-columns',
      'too-many-words',
    ],
    writes: true,
  },
  async (asked) => {
    const { event } = asked;
    const tape = await tapeOf(event);
    await requireChange(event, 'tape', tape.id);
    const { name, kind, zone, session, weekdays, closed, closeIncluded } = tape;
    const query = {
      ...asked.query,
      name,
      zone,
      session: session ?? undefined,
      weekdays: weekdays ?? [...WEEKDAYS],
      closed: closed ?? undefined,
      closeIncluded,
    };
    const choices = await event.locals.store.read((rows) => choicesOfQuery(rows, query));
    await withTapeHeld(tape, () => importInto(asked, { query, choices: { kind, ...choices }, entering: 'append' }));
    logged(event, 'appended', { tape: name, file: query.file });
    return shownDetails(await tapeOf(event, name));
  },
);
