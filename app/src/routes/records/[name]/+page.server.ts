import { error } from '@sveltejs/kit';
import { listCalendars } from '$lib/server/store/calendars';
import { findTape } from '$lib/server/store/tapes';
import { shownDetails } from '$lib/server/store/tapeRows';

export async function load({ locals, params, depends }) {
  depends('app:tapes');
  const tape = await locals.store.read((rows) => findTape(rows, params.name));
  if (!tape) error(404, `No tape is called ${params.name}. The tab Records lists them.`);
  return { tape: shownDetails(tape), calendars: await locals.store.read(listCalendars) };
}
