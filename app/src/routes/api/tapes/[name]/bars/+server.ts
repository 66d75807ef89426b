import { BarQuery } from '$lib/api/tapes';
import { formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { runTask } from '$lib/server/tasks/runTask';

export const GET = endpoint(
  {
    says: 'Bars of a tape.',
    query: BarQuery,
    answer: 'table',
    refuses: ['unknown-tape', 'invalid-rule', 'too-many-bars', 'too-much-work', 'tape-changed', 'damaged-tape'],
    writes: false,
  },
  async ({ event, query, client, signal }) => {
    const tape = await tapeOf(event);
    const format = formatOf(event.request);
    const { rule, flagged = true, csv } = query;
    const writing = { format, forSpreadsheet: csv === 'spreadsheet' };
    const body = await runTask('bars', { tape, rule, flagged, range: rangeOf(query), writing }, { client, signal });
    return tableAnswer(event, body, format, tape);
  },
);
