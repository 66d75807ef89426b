import { Health } from '$lib/api/operation';
import { endpoint } from '$lib/server/http/endpoint';
import { healthOf } from '$lib/server/operation/health';

export const GET = endpoint(
  {
    says: 'Whether the server can do its work; a refusal while it cannot. No token is asked for.',
    refuses: ['store-busy'],
    answer: Health,
    writes: false,
  },
  ({ event }) => healthOf(event.locals.store),
);
