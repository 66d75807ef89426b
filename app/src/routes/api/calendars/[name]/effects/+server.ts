import { z } from 'zod';
import { CalendarBody, CalendarEffect } from '$lib/api/calendars';
import { calendarFrom } from '$lib/server/calendars/calendarFrom';
import { endpoint } from '$lib/server/http/endpoint';
import { findCalendar } from '$lib/server/store/calendars';
import { followersOf } from '$lib/server/store/tapes';
import { runTask } from '$lib/server/tasks/runTask';

export const POST = endpoint(
  {
    says: 'What a change of a calendar would flag in the tapes that go by it. Nothing is changed.',
    body: CalendarBody,
    bodyMegabytes: 4,
    answer: z.array(CalendarEffect),
    refuses: ['unreadable-lines', 'too-much-work', 'damaged-tape'],
    writes: false,
  },
  async ({ event, body, client, signal }) => {
    const name = event.params.name!;
    const calendar = await calendarFrom(name, body, { client, signal });
    const tapes = await event.locals.store.read(async (rows) => {
      const known = await findCalendar(rows, name);
      return known ? followersOf(rows, known) : [];
    });
    const effects: CalendarEffect[] = [];
    for (const tape of tapes) {
      const answer = await runTask('calendarEffect', { tape, calendar }, { client, signal });
      effects.push(CalendarEffect.parse(JSON.parse(new TextDecoder().decode(answer))));
    }
    return effects;
  },
);
