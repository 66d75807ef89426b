import { endSession } from '$lib/server/auth/account';
import { endpoint } from '$lib/server/http/endpoint';

export const DELETE = endpoint(
  { says: "Ends one of one's own sessions.", refuses: ['unknown-session'], writes: false },
  ({ event }) => endSession(event, event.params.id!),
);
