import { RecordQuery } from '$lib/api/tapes';
import { answering, formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';
import { readBy } from '$lib/server/problem';

export const GET = answering(async (event) => {
  const query = readBy(RecordQuery, Object.fromEntries(event.url.searchParams), 'invalid-query');
  const tape = await tapeOf(event);
  const format = formatOf(event.request);
  return tableAnswer(
    await compute({
      kind: 'records',
      tape,
      range: rangeOf(query),
      limit: query.limit,
      offset: query.offset,
      flaggedOnly: query.flagged === 'only',
      format,
    }),
    format,
  );
});
