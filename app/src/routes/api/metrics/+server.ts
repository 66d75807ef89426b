import { endpoint } from '$lib/server/http/endpoint';
import { metricsAnswer } from '$lib/server/operation/metrics';

export const GET = endpoint(
  { says: 'What the server tells of its work, in the OpenMetrics format.', answer: 'metrics', writes: false },
  () => metricsAnswer(),
);
