import { Liveness } from '$lib/api/operation';
import { endpoint } from '$lib/server/http/endpoint';

export const GET = endpoint(
  {
    says: 'Whether the process answers at all; its store is not asked. For a supervisor that restarts it. No token is asked for.',
    answer: Liveness,
    writes: false,
  },
  async () => ({ alive: true }),
);
