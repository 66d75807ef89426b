import { Handover, HandoverChange } from '$lib/api/handovers';
import { LedgerVersion } from '$lib/api/ledgers';
import { documentOf, removeDocument, saveDocument } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { HANDOVERS } from '$lib/server/http/handovers';

export const GET = endpoint(
  { says: 'One page to hand over, with its figures.', answer: Handover, refuses: ['unknown-page'], writes: false },
  ({ event }) => documentOf(event, HANDOVERS),
);

export const PUT = endpoint(
  {
    says: 'Saves a page to hand over, on the version that it was changed from.',
    body: HandoverChange,
    bodyMegabytes: 16,
    answer: Handover,
    refuses: ['unknown-page', 'page-changed'],
    writes: true,
  },
  ({ event, body }) => saveDocument(event, HANDOVERS, body),
);

export const DELETE = endpoint(
  {
    says: 'Takes a page to hand over away, at the version that it was looked at.',
    query: LedgerVersion,
    refuses: ['unknown-page', 'page-changed'],
    writes: true,
  },
  ({ event, query: { version } }) => removeDocument(event, HANDOVERS, version),
);
