import { listTapes, shownTape } from '$lib/server/store/tapes';

export async function load({ locals, depends }) {
  depends('app:tapes');
  return { tapes: (await listTapes(locals.db)).map(shownTape) };
}
