import { ProfileBody } from '$lib/api/readings';
import { endpoint } from '$lib/server/http/endpoint';
import { keepProfile } from '$lib/server/store/profiles';

export const POST = endpoint(
  {
    says: 'Keeps a reading under a name; it is proposed again for files of the same shape.',
    body: ProfileBody,
    writes: true,
  },
  ({ event, body }) => event.locals.store.write((rows) => keepProfile(rows, body)),
);
