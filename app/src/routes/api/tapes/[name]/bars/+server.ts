import { BarQuery } from '$lib/api/tapes';
import { answering, formatOf, rangeOf, tableAnswer, tapeOf } from '$lib/server/answer';
import { compute } from '$lib/server/jobs/computePool';
import { readBy } from '$lib/server/problem';

export const GET = answering(async (event) => {
  const query = readBy(BarQuery, Object.fromEntries(event.url.searchParams), 'invalid-query');
  const tape = await tapeOf(event);
  const format = formatOf(event.request);
  return tableAnswer(
    await compute({
      kind: 'bars',
      tape,
      range: rangeOf(query),
      rule: query.rule,
      flagged: query.flagged ?? true,
      format,
    }),
    format,
  );
});
