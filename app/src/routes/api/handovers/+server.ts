import { z } from 'zod';
import { Handover, HandoverSummary, NewHandover } from '$lib/api/handovers';
import { endpoint } from '$lib/server/http/endpoint';
import { handovers, listHandovers } from '$lib/server/store/handovers';

export const GET = endpoint(
  {
    says: 'All pages that are handed over, without their figures, the one saved last first.',
    answer: z.array(HandoverSummary),
    writes: false,
  },
  ({ event }) => event.locals.store.read(listHandovers),
);

export const POST = endpoint(
  {
    says: 'Begins a page to hand over.',
    body: NewHandover,
    bodyMegabytes: 16,
    answer: Handover,
    status: 201,
    writes: true,
  },
  ({ event, body: page }) => event.locals.store.write((rows) => handovers.insert(rows, page, Date.now() * 1000)),
);
