import { RecordQuery } from '$lib/api/tapes';
import { formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { runTask } from '$lib/server/tasks/runTask';

export const GET = endpoint(
  {
    says: 'Records as they were entered; or those that one bar is made of.',
    query: RecordQuery,
    answer: 'table',
    refuses: ['unknown-tape', 'invalid-rule', 'too-many-bars', 'too-much-work', 'tape-changed', 'damaged-tape'],
    writes: false,
  },
  async ({ event, query, client, signal }) => {
    const tape = await tapeOf(event);
    const format = formatOf(event.request);
    const { bar, rule, limit, offset, csv } = query;
    const writing = { format, forSpreadsheet: csv === 'spreadsheet' };
    const who = { client, signal };
    if (bar !== undefined && rule !== undefined) {
      const flagged = query.flagged !== 'no';
      return tableAnswer(
        event,
        await runTask('barRecords', { tape, rule, flagged, row: bar, limit, writing }, who),
        format,
        tape,
      );
    }
    const flagged = query.flagged === 'no' ? undefined : query.flagged;
    return tableAnswer(
      event,
      await runTask('records', { tape, range: rangeOf(query), limit, offset, flagged, writing }, who),
      format,
      tape,
    );
  },
);
