import { sharingEndpoints } from '$lib/server/auth/sharingEndpoints';
import { tapeOf } from '$lib/server/http/answer';

export const { GET, PUT } = sharingEndpoints('tape', 'unknown-tape', async (event) => {
  const { id, name: says } = await tapeOf(event);
  return { id, says };
});
