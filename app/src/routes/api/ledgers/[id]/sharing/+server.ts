import { documentSharing } from '$lib/server/http/documentEndpoints';
import { LEDGERS } from '$lib/server/http/ledgers';

export const { GET, PUT } = documentSharing(LEDGERS);
