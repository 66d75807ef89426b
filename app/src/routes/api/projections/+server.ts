import { workEndpoint } from '$lib/server/http/workEndpoint';
import { PROJECTION } from '$lib/works/projection/work';

export const POST = workEndpoint(PROJECTION, 'projection');
