import { rfc3339 } from '@jaunty-ledger/core';
import { z } from 'zod';
import { Job } from '$lib/api/jobs';
import { mayStop } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { listJobs } from '$lib/server/store/jobs';

export const GET = endpoint(
  {
    says: 'Queued and running jobs of servers that share a database: your own; all of them for the administrator.',
    answer: z.array(Job),
    writes: false,
  },
  async ({ event }) =>
    (await event.locals.store.read(listJobs))
      .filter(({ client }) => mayStop(event, client))
      .map(({ madeAt, ...job }) => ({ ...job, madeAt: rfc3339(madeAt * 1000) })),
);
