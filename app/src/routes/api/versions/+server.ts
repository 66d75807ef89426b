import { VersionsQuery, Versions } from '$lib/api/live';
import { endpoint } from '$lib/server/http/endpoint';
import { versionsAnswer } from '$lib/server/live/versions';

export const GET = endpoint(
  {
    says: 'Sends server-sent events `versions` when one of the given tapes has changed.',
    query: VersionsQuery,
    answer: { events: Versions },
    refuses: ['too-busy'],
    writes: false,
  },
  async ({ event, query }) => versionsAnswer(event.locals.store, query.tapes.split(',')),
);
