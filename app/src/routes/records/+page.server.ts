import { listTapes, shownTape } from '$lib/server/store/tapes';

export async function load({ locals, depends }) {
  depends('app:tapes');
  return { tapes: (await locals.store.read(listTapes)).map(shownTape) };
}
