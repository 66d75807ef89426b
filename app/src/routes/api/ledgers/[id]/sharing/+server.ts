import { sharingEndpoints } from '$lib/server/auth/sharingEndpoints';
import { documentOf } from '$lib/server/http/documents';
import { LEDGER_KIND } from '$lib/server/http/ledgers';

export const { GET, PUT } = sharingEndpoints('ledger', 'unknown-ledger', async (event) => {
  const { id, title } = await documentOf(event, LEDGER_KIND);
  return { id, says: title };
});
