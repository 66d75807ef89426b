import { listCalendars } from '$lib/server/store/calendars';

export async function load({ locals, depends }) {
  depends('app:calendars');
  return { calendars: await locals.store.read(listCalendars) };
}
