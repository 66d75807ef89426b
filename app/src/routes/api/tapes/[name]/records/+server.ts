import { RecordQuery } from '$lib/api/tapes';
import { answering, formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';
import { readBy } from '$lib/server/problem';

export const GET = answering(async (event) => {
  const query = readBy(RecordQuery, Object.fromEntries(event.url.searchParams), 'invalid-query');
  const tape = await tapeOf(event);
  const format = formatOf(event.request);
  const { bar, rule, limit } = query;
  if (bar !== undefined && rule !== undefined) {
    const flagged = query.flagged !== 'no';
    const range = rangeOf({});
    return tableAnswer(
      await compute({ kind: 'barRecords', tape, range, rule, flagged, row: bar, limit, format }),
      format,
    );
  }
  return tableAnswer(
    await compute({
      kind: 'records',
      tape,
      range: rangeOf(query),
      limit,
      offset: query.offset,
      flagged: query.flagged === 'no' ? undefined : query.flagged,
      format,
    }),
    format,
  );
});
