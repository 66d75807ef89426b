import { instantOf } from '@jaunty-ledger/core';
import { ProjectionBody, ToldProjections } from '$lib/api/projections';
import { COLUMN_REFUSALS, rangeOf, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { longAnswer } from '$lib/server/http/longAnswer';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'What models say of the rows to come, from an origin after which nothing is seen.',
    body: ProjectionBody,
    answer: ToldProjections,
    tellsShare: true,
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const tape = await tapeOf(event, body.tape);
    const { bars: rule, flagged = true, stretch, origin, ...rest } = body;
    const until = origin === undefined ? Infinity : instantOf(origin);
    const input = { ...rest, tape, rule, flagged, stretch: stretch && rangeOf(stretch), origin: until };
    return longAnswer(event, { client, signal }, (who) => runTask('projection', input, who));
  },
);
