import { endpoint } from '$lib/server/http/endpoint';
import { metricsAnswer } from '$lib/server/operation/metrics';

export const GET = endpoint(
  { says: 'Metrics of the server in the OpenMetrics format.', answer: 'metrics', writes: false },
  () => metricsAnswer(),
);
