import { rfc3339 } from '@jaunty-ledger/core';
import { z } from 'zod';
import { Job } from '$lib/api/jobs';
import { mayStop } from '$lib/server/auth/sharing';
import { endpoint } from '$lib/server/http/endpoint';
import { listJobs } from '$lib/server/store/jobs';

export const GET = endpoint(
  {
    says: 'Large work that servers which share a store have handed to each other and that is not at its end: your own; all of it for whoever keeps the book.',
    answer: z.array(Job),
    writes: false,
  },
  async ({ event }) =>
    (await event.locals.store.read(listJobs))
      .filter(({ client }) => mayStop(event, client))
      .map(({ madeAt, ...job }) => ({ ...job, madeAt: rfc3339(madeAt * 1000) })),
);
