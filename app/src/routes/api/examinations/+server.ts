import { workEndpoint } from '$lib/server/http/workEndpoint';
import { EXAMINATION } from '$lib/works/examination/work';

export const POST = workEndpoint(EXAMINATION, 'examination');
