import { Ledger, LedgerChange, LedgerVersion } from '$lib/api/ledgers';
import { documentOf, removeDocument, saveDocument, type DocumentKind } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { ledgers } from '$lib/server/store/ledgers';

const KIND: DocumentKind<Ledger['body']> = {
  documents: ledgers,
  says: 'ledger',
  unknown: 'unknown-ledger',
  changed: 'ledger-changed',
  list: '/api/ledgers',
};

export const GET = endpoint(
  { says: 'One ledger.', answer: Ledger, refuses: ['unknown-ledger'], writes: false },
  ({ event }) => documentOf(event, KIND),
);

export const PUT = endpoint(
  {
    says: 'Saves a ledger, on the version that it was changed from.',
    body: LedgerChange,
    answer: Ledger,
    refuses: ['unknown-ledger', 'ledger-changed'],
    writes: true,
  },
  ({ event, body }) => saveDocument(event, KIND, body),
);

export const DELETE = endpoint(
  {
    says: 'Takes a ledger away, at the version that it was looked at.',
    query: LedgerVersion,
    refuses: ['unknown-ledger', 'ledger-changed'],
    writes: true,
  },
  ({ event, query: { version } }) => removeDocument(event, KIND, version),
);
