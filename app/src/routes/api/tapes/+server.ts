import { z } from 'zod';
import { ListQuery } from '$lib/api/lists';
import { EnteredTapes, ImportQuery, Tape, TapeDetails } from '$lib/api/tapes';
import { json } from '@sveltejs/kit';
import { choicesOfQuery, hoursOfQuery, importInto } from '$lib/server/imports/importInto';
import { readOnly } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { BY_NAME, listAnswer, rangeOf } from '$lib/server/http/listAnswer';
import { logged } from '$lib/server/log';
import { findTape, findTapes, nameTaken, tapePage } from '$lib/server/store/tapes';
import { shownDetails, shownTape } from '$lib/server/store/tapeRows';

const TapesQuery = ListQuery.extend({
  find: z.string().max(120).optional().describe('Those with these words in their name or note'),
});

export const GET = endpoint(
  { says: 'Tapes, by name.', query: TapesQuery, answer: z.array(Tape), isList: true, writes: false },
  async ({ event, query }) => {
    const page = await event.locals.store.read((rows) => tapePage(rows, rangeOf(query, BY_NAME), query.find));
    return listAnswer(event, { ...page, items: page.items.map(shownTape) });
  },
);

export const POST = endpoint(
  {
    says: 'Enters a file as one tape or several; with `join=yes`, what goes by the name of a tape that is there is added to it. It answers with the tape, or with all of them where the file makes several.',
    query: ImportQuery,
    takesFile: true,
    answer: z.union([TapeDetails, EnteredTapes]),
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
      'decimal-open',
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
    const tapes = entered.map(shownDetails);
    const [first] = tapes;
    const headers = { location: `/api/tapes/${first.name}` };
    return json(tapes.length > 1 ? { tapes } : first, { status: 201, headers });
  },
);
