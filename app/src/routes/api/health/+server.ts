import { Health } from '$lib/api/operation';
import { endpoint } from '$lib/server/http/endpoint';
import { healthOf } from '$lib/server/operation/health';

export const GET = endpoint(
  {
    says: 'Whether the server can do its work; 503 while it cannot. No token is asked for.',
    answer: Health,
    writes: false,
  },
  async ({ event }) => {
    const health = await healthOf(event.locals.store);
    return Response.json(health, { status: health.ready ? 200 : 503 });
  },
);
