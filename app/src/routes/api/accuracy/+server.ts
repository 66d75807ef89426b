import { AccuracyBody, ToldAccuracy } from '$lib/api/projections';
import { COLUMN_REFUSALS, rangeOf, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { longAnswer } from '$lib/server/http/longAnswer';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'How far projections of models from many origins were from what came, held against the last value.',
    body: AccuracyBody,
    answer: ToldAccuracy,
    tellsShare: true,
    refuses: COLUMN_REFUSALS,
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const tape = await tapeOf(event, body.tape);
    const { bars: rule, flagged = true, stretch, first, step, refit, ...rest } = body;
    const input = { ...rest, tape, rule, flagged, first, step, refit, stretch: stretch && rangeOf(stretch) };
    return longAnswer(event, { client, signal }, (who) => runTask('projectionAccuracy', input, who));
  },
);
