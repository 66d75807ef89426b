import { Handover, HandoverSummary } from '$lib/api/handovers';
import { HandoverToMake } from '$lib/api/newHandovers';
import { collectionEndpoints } from '$lib/server/http/documentEndpoints';
import { HANDOVERS } from '$lib/server/http/handovers';
import { listHandovers } from '$lib/server/store/handovers';

export const { GET, POST } = collectionEndpoints(HANDOVERS, {
  says: {
    list: 'Pages to hand over, without their figures, the one saved last first.',
    make: 'Begins a page to hand over.',
  },
  newDocument: HandoverToMake,
  bodyMegabytes: 16,
  answer: Handover,
  summary: { answer: HandoverSummary, list: listHandovers },
});
