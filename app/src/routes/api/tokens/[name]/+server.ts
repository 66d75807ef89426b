import { requireKeeper } from '$lib/server/auth/keeper';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { deleteToken } from '$lib/server/store/tokens';

export const DELETE = endpoint(
  { says: 'Revokes a token.', refuses: ['not-allowed'], writes: true },
  async ({ event }) => {
    requireKeeper(event);
    const name = event.params.name!;
    await event.locals.store.write((rows) => deleteToken(rows, name));
    logged(event, 'took back a token', { token: name });
  },
);
