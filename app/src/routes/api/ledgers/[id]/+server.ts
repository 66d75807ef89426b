import { Ledger, LedgerChange, LedgerVersion } from '$lib/api/ledgers';
import { documentOf, removeDocument, saveDocument } from '$lib/server/http/documents';
import { endpoint } from '$lib/server/http/endpoint';
import { LEDGER_KIND } from '$lib/server/http/ledgers';

export const GET = endpoint(
  { says: 'One ledger.', answer: Ledger, refuses: ['unknown-ledger'], writes: false },
  ({ event }) => documentOf(event, LEDGER_KIND),
);

export const PUT = endpoint(
  {
    says: 'Saves a ledger, on the version that it was changed from.',
    body: LedgerChange,
    answer: Ledger,
    refuses: ['unknown-ledger', 'ledger-changed', 'not-allowed'],
    writes: true,
  },
  ({ event, body }) => saveDocument(event, LEDGER_KIND, body),
);

export const DELETE = endpoint(
  {
    says: 'Takes a ledger away, at the version that it was looked at.',
    query: LedgerVersion,
    refuses: ['unknown-ledger', 'ledger-changed', 'not-allowed'],
    writes: true,
  },
  ({ event, query: { version } }) => removeDocument(event, LEDGER_KIND, version),
);
