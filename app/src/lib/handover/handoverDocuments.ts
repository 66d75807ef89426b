import { createHandover, saveHandover } from '$lib/api/client';
import type { HandoverBody } from '$lib/api/handovers';
import type { PageKind } from '$lib/pages/pageKeeper.svelte';

/** Pages to hand over, for their keeper: all that they hold is kept under their number. */
export const HANDOVER: PageKind<HandoverBody> = {
  page: 'handover',
  addressOf: (_, kept) => `/handover/${kept}`,
  documents: {
    create: (page) => createHandover(fetch, page),
    save: (id, change) => saveHandover(fetch, id, change),
  },
};
