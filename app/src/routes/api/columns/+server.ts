import { ColumnsBody } from '$lib/api/tapes';
import { answering, formatOf, jsonBody, rangeOf, tableAnswer, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';
import { readBy } from '$lib/server/problem';

export const POST = answering(async (event) => {
  const body = readBy(ColumnsBody, await jsonBody(event.request), 'invalid-body');
  const tape = await tapeOf(event, body.tape);
  const format = formatOf(event.request);
  const { bars: rule, entries } = body;
  return tableAnswer(
    await compute({
      kind: 'columns',
      tape,
      range: rangeOf(body),
      rule,
      flagged: body.flagged ?? true,
      entries,
      complete: body.complete ?? false,
      format,
    }),
    format,
  );
});
