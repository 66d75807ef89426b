import { KeptPage, PageChange } from '$lib/api/pages';
import { itemEndpoints } from '$lib/server/http/documentEndpoints';
import { PAGES } from '$lib/server/http/pages';

export const { GET, PUT, DELETE } = itemEndpoints(PAGES, {
  says: {
    read: 'One saved page.',
    save: 'Saves a page, on the version that it was changed from.',
    remove: 'Deletes a page, at the version that it was looked at.',
  },
  change: PageChange,
  answer: KeptPage,
});
