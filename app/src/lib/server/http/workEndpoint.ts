import { instantOf } from '@jaunty-ledger/core';
import type { RequestEvent } from '@sveltejs/kit';
import type { z } from 'zod';
import type { Work } from '$lib/works/work';
import { runTask } from '../tasks/runTask';
import type { TaskInput, TaskName } from '../tasks/kinds';
import { COLUMN_REFUSALS, rangeOf, tapeOf } from './answer';
import { endpoint, type Endpoint } from './endpoint';
import { longAnswer } from './longAnswer';

/** Fields that bodies of works have in common, as they come. */
interface CommonFields {
  bars: string;
  flagged?: boolean;
  stretch?: { from?: string; to?: string };
  origin?: string;
}

/** The same as tasks take them: flagged records are in the bars unless they are left out, times are instants. */
const taskFields = <Body extends CommonFields>({ bars, flagged = true, stretch, origin, ...rest }: Body) => ({
  ...rest,
  rule: bars,
  flagged,
  stretch: stretch && rangeOf(stretch),
  origin: origin === undefined ? Infinity : instantOf(origin),
});

/**
 * The route of a work.
 * @param task   the kind of task that does it
 * @param tapes  finds the tapes that the body names; the one of its field `tape`, if not given
 */
export function workEndpoint<Name extends TaskName, Body extends z.ZodType<CommonFields>>(
  { says, body: schema, answer }: Work<Body>,
  task: Name,
  tapes: (event: RequestEvent, body: z.infer<Body>) => Promise<object> = async (event, body) => ({
    tape: await tapeOf(event, (body as { tape?: string }).tape),
  }),
): Endpoint {
  return endpoint(
    { says, body: schema, answer, tellsShare: true, refuses: COLUMN_REFUSALS, writes: false },
    async ({ event, body, client, signal }) => {
      // each task names its own fields: they are those of the body it was asked by
      const input = { ...taskFields(body as CommonFields), ...(await tapes(event, body)) } as TaskInput<Name>;
      return longAnswer(event, { client, signal }, (who) => runTask(task, input, who));
    },
  );
}
