import { Handover } from '$lib/api/handovers';
import { HandoverChange } from '$lib/api/newHandovers';
import { itemEndpoints } from '$lib/server/http/documentEndpoints';
import { HANDOVERS } from '$lib/server/http/handovers';

export const { GET, PUT, DELETE } = itemEndpoints(HANDOVERS, {
  says: {
    read: 'One page to hand over, with its figures.',
    save: 'Saves a page to hand over, on the version that it was changed from.',
    remove: 'Deletes a page to hand over, at the version that it was looked at.',
  },
  change: HandoverChange,
  bodyMegabytes: 16,
  answer: Handover,
});
