import { KeptPage, PageChange, PageVersion } from '$lib/api/pages';
import { documentOf, removeDocument, saveDocument, type DocumentKind } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { pages } from '$lib/server/store/pages';

const KIND: DocumentKind<KeptPage['body']> = {
  documents: pages,
  says: 'page',
  unknown: 'unknown-page',
  changed: 'page-changed',
  list: '/api/pages',
};

export const GET = endpoint(
  { says: 'One kept page.', answer: KeptPage, refuses: ['unknown-page'], writes: false },
  ({ event }) => documentOf(event, KIND),
);

export const PUT = endpoint(
  {
    says: 'Saves a page, on the version that it was changed from.',
    body: PageChange,
    answer: KeptPage,
    refuses: ['unknown-page', 'page-changed'],
    writes: true,
  },
  ({ event, body }) => saveDocument(event, KIND, body),
);

export const DELETE = endpoint(
  {
    says: 'Takes a page away, at the version that it was looked at.',
    query: PageVersion,
    refuses: ['unknown-page', 'page-changed'],
    writes: true,
  },
  ({ event, query: { version } }) => removeDocument(event, KIND, version),
);
