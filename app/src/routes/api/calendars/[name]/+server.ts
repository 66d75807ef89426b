import { CalendarBody, CalendarChanged, changeTo, ListedCalendar } from '$lib/api/calendars';
import { Refusal, refuse } from '$lib/api/problems';
import { readOnly } from '$lib/server/auth/sharing';
import { calendarFrom } from '$lib/server/calendars/calendarFrom';
import { endpoint } from '$lib/server/http/endpoint';
import { logged } from '$lib/server/log';
import { calendarOf, forgetCalendar, keepCalendar, listCalendars } from '$lib/server/store/calendars';
import { followersOf } from '$lib/server/store/tapes';
import { runTask } from '$lib/server/tasks/runTask';

export const GET = endpoint(
  { says: 'One calendar.', answer: ListedCalendar, refuses: ['unknown-calendar'], writes: false },
  async ({ event }) => {
    const name = event.params.name!;
    const found = (await event.locals.store.read(listCalendars)).find(
      (one) => one.name.toLowerCase() === name.toLowerCase(),
    );
    if (!found) throw refuse('unknown-calendar', `No calendar is called ${name}.`);
    return found;
  },
);

export const PUT = endpoint(
  {
    says: 'Saves a calendar. The records of its tapes are flagged again, one tape after the other.',
    body: CalendarBody,
    bodyMegabytes: 4,
    answer: CalendarChanged,
    refuses: ['name-taken', 'not-allowed', 'unreadable-lines'],
    writes: true,
  },
  async ({ event, body, client, signal }) => {
    const { store } = event.locals;
    const known = event.params.name!;
    const calendar = await calendarFrom(known, body, { client, signal });
    const untouchable = await readOnly(event, 'tape');
    const others = (await store.read((rows) => followersOf(rows, calendar))).filter(({ id }) =>
      untouchable.includes(id),
    );
    if (others.length > 0)
      throw refuse(
        'not-allowed',
        `${others.map(({ name }) => name).join(', ')} would change, which others may only read. Keep the hours as another calendar.`,
      );
    await store.write((rows) => keepCalendar(rows, known, calendar));
    logged(event, 'calendar saved', { calendar: calendar.name });
    const followers = await store.read((rows) => followersOf(rows, calendar));
    const changed: string[] = [];
    const failed: CalendarChanged['failed'] = [];
    for (const { name, rows } of followers)
      try {
        const change = changeTo(calendar);
        await runTask('changeTape', { name, change, rows, now: Date.now() * 1000 }, { client, signal });
        changed.push(name);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        failed.push({ tape: name, reason: error.problem.detail });
      }
    return { calendar, changed, failed };
  },
);

export const DELETE = endpoint(
  {
    says: 'Deletes a calendar. Its tapes keep its hours as their own trading hours.',
    refuses: ['unknown-calendar'],
    writes: true,
  },
  async ({ event }) => {
    const name = event.params.name!;
    await event.locals.store.write(async (rows) => forgetCalendar(rows, await calendarOf(rows, name)));
    logged(event, 'calendar deleted', { calendar: name });
  },
);
