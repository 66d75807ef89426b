import { Ledger, LedgerToMake } from '$lib/api/ledgers';
import { collectionEndpoints } from '$lib/server/http/documentEndpoints';
import { LEDGERS } from '$lib/server/http/ledgers';

export const { GET, POST } = collectionEndpoints(LEDGERS, {
  says: { list: 'Ledgers, the one saved last first.', make: 'Makes a ledger.' },
  newDocument: LedgerToMake,
  answer: Ledger,
});
