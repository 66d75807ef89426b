import { ColumnsBody } from '$lib/works/columns/work';
import { COLUMN_REFUSALS, formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'Bars with a column for each formula.',
    body: ColumnsBody,
    answer: 'table',
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const tape = await tapeOf(event, body.tape);
    const format = formatOf(event.request);
    const { bars: rule, entries, flagged = true, complete = false, csv, alone, columns, most } = body;
    const writing = { format, forSpreadsheet: csv === 'spreadsheet' };
    const input = {
      tape,
      rule,
      flagged,
      entries,
      complete,
      columns,
      most,
      alone: alone && rangeOf(alone),
      range: rangeOf(body),
      writing,
    };
    return tableAnswer(event, await runTask('columns', input, { client, signal }), format, tape);
  },
);
