import { KeptPage, PageToMake } from '$lib/api/pages';
import { collectionEndpoints } from '$lib/server/http/documentEndpoints';
import { PAGES } from '$lib/server/http/pages';

export const { GET, POST } = collectionEndpoints(PAGES, {
  says: { list: 'Saved pages, the one saved last first.', make: 'Saves a page under a name.' },
  newDocument: PageToMake,
  answer: KeptPage,
});
