import { documentSharing } from '$lib/server/http/documentEndpoints';
import { HANDOVERS } from '$lib/server/http/handovers';

export const { GET, PUT } = documentSharing(HANDOVERS);
