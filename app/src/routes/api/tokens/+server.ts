import { z } from 'zod';
import { MadeToken, NewToken, Token } from '$lib/api/tokens';
import { hashOf, newToken } from '$lib/server/auth/gate';
import { requireKeeper } from '$lib/server/auth/keeper';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { insertToken, listTokens } from '$lib/server/store/tokens';

export const GET = endpoint(
  {
    says: 'Tokens that were made, without what they are themselves.',
    answer: z.array(Token),
    refuses: ['not-allowed'],
    writes: false,
  },
  async ({ event }) => {
    requireKeeper(event);
    return event.locals.store.read(listTokens);
  },
);

export const POST = endpoint(
  {
    says: 'Creates a token. The token itself is shown only in this answer.',
    body: NewToken,
    answer: MadeToken,
    status: 201,
    refuses: ['not-allowed', 'name-taken'],
    writes: true,
  },
  async ({ event, body: { name, access } }) => {
    requireKeeper(event);
    const token = newToken();
    const made = await event.locals.store.write((rows) =>
      insertToken(rows, { name, access, hash: hashOf(token) }, Date.now() * 1000),
    );
    logged(event, 'made a token', { token: name, access });
    return { ...made, token };
  },
);
