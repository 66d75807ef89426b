import { workEndpoint } from '$lib/server/http/workEndpoint';
import { ACCURACY } from '$lib/works/accuracy/work';

export const POST = workEndpoint(ACCURACY, 'projectionAccuracy');
