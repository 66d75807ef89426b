import { z } from 'zod';
import { endpoint } from '$lib/server/http/endpoint';
import { openApi } from '$lib/server/http/openApi';

export const GET = endpoint(
  {
    says: 'This description of the interface, in OpenAPI 3.1.',
    answer: z.record(z.string(), z.unknown()),
    writes: false,
  },
  () => openApi(),
);
