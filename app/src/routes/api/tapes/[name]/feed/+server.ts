import { FeedLine, FeedQuery, SenderQuery } from '$lib/api/live';
import { refuse } from '$lib/api/problems';
import { requireChange } from '$lib/server/auth/sharing';
import { tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { feedAnswer } from '$lib/server/live/liveService';
import { logged } from '$lib/server/log';
import { forgetSender } from '$lib/server/store/feedSenders';

export const POST = endpoint(
  {
    says: 'Feeds a tape for as long as the body stays open: a record a line, as JSON or CSV. Answered beside it, line by line. A WebSocket at the same address does the same.',
    query: FeedQuery,
    takesLines: true,
    answer: { lines: FeedLine },
    refuses: ['unknown-tape', 'not-allowed', 'too-busy'],
    writes: true,
  },
  async ({ event, query: { sender = '', format } }) => {
    const tape = await tapeOf(event);
    await requireChange(event, 'tape', tape.id);
    const type = event.request.headers.get('content-type') ?? '';
    const told = type.includes('csv') ? 'csv' : /json/.test(type) ? 'json' : undefined;
    logged(event, 'fed', { tape: tape.name, ...(sender && { sender }) });
    return feedAnswer(event.request, tape, { sender, format: format ?? told });
  },
);

export const DELETE = endpoint(
  {
    says: 'Resets a sender: its next record may have any `seq`. Close its feed first.',
    query: SenderQuery,
    refuses: ['unknown-tape', 'not-allowed', 'invalid-query'],
    writes: true,
  },
  async ({ event, query: { sender } }) => {
    const tape = await tapeOf(event);
    await requireChange(event, 'tape', tape.id);
    if (!(await event.locals.store.write((rows) => forgetSender(rows, tape.id, sender))))
      throw refuse('invalid-query', `No sender called ${sender} has fed ${tape.name}.`);
    logged(event, 'sender reset', { tape: tape.name, sender });
  },
);
