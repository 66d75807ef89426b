import { documentSharing } from '$lib/server/http/documentEndpoints';
import { PAGES } from '$lib/server/http/pages';

export const { GET, PUT } = documentSharing(PAGES);
