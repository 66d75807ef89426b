import { RollBody, ToldRoll } from '$lib/works/roll/work';
import { refuse } from '$lib/api/problems';
import { COLUMN_REFUSALS } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { rollAnswer } from '$lib/works/roll/stream';
import { findTapes, tapeNames } from '$lib/server/store/tapes';

export const POST = endpoint(
  {
    says: 'The last values of one ledger on many tapes, a row a tape; each says of which version of its tape it is.',
    body: RollBody,
    answer: ToldRoll,
    tellsShare: true,
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const { tapes: names, bars: rule, flagged = true, entries, back } = body;
    const all = await event.locals.store.read(async (rows) => findTapes(rows, names ?? (await tapeNames(rows))));
    const byName = new Map(all.map((tape) => [tape.name, tape]));
    const missing = names?.filter((name) => !byName.has(name)) ?? [];
    if (missing.length > 0)
      throw refuse('unknown-tape', `No tape is called ${missing.slice(0, 5).join(', ')}. GET /api/tapes lists them.`);
    const tapes = names ? [...new Set(names)].map((name) => byName.get(name)!) : all;
    return rollAnswer(event.request, { client, signal }, tapes, { rule, entries, flagged, back });
  },
);
