import { Ledger, LedgerChange } from '$lib/api/ledgers';
import { itemEndpoints } from '$lib/server/http/documentEndpoints';
import { LEDGERS } from '$lib/server/http/ledgers';

export const { GET, PUT, DELETE } = itemEndpoints(LEDGERS, {
  says: {
    read: 'One ledger.',
    save: 'Saves a ledger, on the version that it was changed from.',
    remove: 'Deletes a ledger, at the version that it was looked at.',
  },
  change: LedgerChange,
  answer: Ledger,
});
