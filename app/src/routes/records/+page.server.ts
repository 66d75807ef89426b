import { listCalendars } from '$lib/server/store/calendars';
import { listShelf } from '$lib/server/store/tapes';

export async function load({ locals, depends }) {
  depends('app:tapes');
  depends('app:calendars');
  return locals.store.read(async (rows) => ({
    lines: await listShelf(rows),
    calendars: await listCalendars(rows),
  }));
}
