import { TapeSummary } from '$lib/api/summary';
import { jsonAnswer, tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { runTask } from '$lib/server/tasks/runTask';

export const GET = endpoint(
  {
    says: 'Figures of each column of the records, and how busy each hour of the day is.',
    answer: TapeSummary,
    refuses: ['unknown-tape', 'too-much-work', 'tape-changed', 'damaged-tape'],
    writes: false,
  },
  async ({ event, client, signal }) =>
    jsonAnswer(await runTask('summary', { tape: await tapeOf(event) }, { client, signal })),
);
