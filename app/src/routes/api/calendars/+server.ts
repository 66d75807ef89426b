import { z } from 'zod';
import { ListedCalendar } from '$lib/api/calendars';
import { endpoint } from '$lib/server/http/endpoint';
import { listCalendars } from '$lib/server/store/calendars';

export const GET = endpoint(
  { says: 'Calendars, each with the tapes that go by it.', answer: z.array(ListedCalendar), writes: false },
  ({ event }) => event.locals.store.read(listCalendars),
);
