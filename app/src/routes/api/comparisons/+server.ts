import { ComparisonBody, ToldComparison } from '$lib/api/comparisons';
import { COLUMN_REFUSALS, rangeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { longAnswer } from '$lib/server/http/longAnswer';
import { findTape } from '$lib/server/store/tapes';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'Several columns on common rows: their average, correlations of all pairs, and one pair in full.',
    body: ComparisonBody,
    answer: ToldComparison,
    tellsShare: true,
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const { bars: rule, flagged = true, stretch, ...rest } = body;
    const names = [...new Set(body.members.map(({ tape }) => tape))];
    const found = await event.locals.store.read((rows) => Promise.all(names.map((name) => findTape(rows, name))));
    const tapes = found.filter((tape) => tape !== undefined);
    const input = { ...rest, tapes, rule, flagged, stretch: stretch && rangeOf(stretch) };
    return longAnswer(event, { client, signal }, (who) => runTask('comparison', input, who));
  },
);
