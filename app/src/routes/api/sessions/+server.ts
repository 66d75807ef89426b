import { z } from 'zod';
import { OpenSession } from '$lib/api/people';
import { sessionsFor, signOutEverywhere } from '$lib/server/auth/account';
import { endpoint } from '$lib/server/http/endpoint';

export const GET = endpoint(
  { says: 'Browsers that one is signed in with.', answer: z.array(OpenSession), writes: false },
  ({ event }) => sessionsFor(event),
);

export const DELETE = endpoint({ says: 'Signs one out everywhere, here too.', writes: false }, ({ event }) =>
  signOutEverywhere(event),
);
