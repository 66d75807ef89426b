import { z } from 'zod';
import { EnteredTapes, ImportQuery, Tape } from '$lib/api/tapes';
import { json } from '@sveltejs/kit';
import { choicesOfQuery, hoursOfQuery, importInto } from '$lib/server/imports/importInto';
import { readOnly } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { findTape, findTapes, listTapes, nameTaken, shownTape } from '$lib/server/store/tapes';

export const GET = endpoint({ says: 'The shelf.', answer: z.array(Tape), writes: false }, async ({ event }) =>
  (await event.locals.store.read(listTapes)).map(shownTape),
);

export const POST = endpoint(
  {
    says: 'Enters a file as one tape or several; with `join=yes`, what goes by the name of a tape that is there is added to it. It answers with the tape, or with all of them where the file makes several.',
    query: ImportQuery,
    takesFile: true,
    answer: z.union([Tape, EnteredTapes]),
    status: 201,
    refuses: [
      'name-taken',
      'not-allowed',
      'unknown-calendar',
      'tape-changed',
      'damaged-tape',
      'empty-file',
      'no-time-column',
      'no-price-column',
      'unreadable-lines',
      'date-order-open',
      'broken-body',
      'too-many-tapes',
      'too-many-columns',
      'too-many-words',
    ],
    writes: true,
  },
  async (asked) => {
    const { event, query } = asked;
    const { store } = event.locals;
    const [choices, hours] = await store.read(async (rows) => {
      // asked again when the tape is entered; here so that a long upload is not in vain
      if (!query.join && (await findTape(rows, query.name))) throw nameTaken(query.name);
      return [await choicesOfQuery(rows, query), await hoursOfQuery(rows, query)] as const;
    });
    const names = await importInto(asked, {
      query: { ...query, ...hours },
      choices,
      ...(query.join ? { entering: 'join', untouchable: await readOnly(event, 'tape') } : { entering: 'new' }),
    });
    logged(event, 'entered', { tapes: names, file: query.file });
    const entered = await store.read((rows) => findTapes(rows, names));
    const tapes = entered.map(shownTape);
    const [first] = tapes;
    const headers = { location: `/api/tapes/${first.name}` };
    return json(tapes.length > 1 ? { tapes } : first, { status: 201, headers });
  },
);
