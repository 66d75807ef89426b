import { writeClosedDays } from '@jaunty-ledger/files/calendars/icalendar';
import { calendarOptions } from '$lib/api/tapes';
import { endpoint } from '$lib/server/http/endpoint';
import { calendarOf } from '$lib/server/store/calendars';

export const GET = endpoint(
  {
    says: 'The closed days of a calendar as an iCalendar file (RFC 5545).',
    answer: 'icalendar',
    refuses: ['unknown-calendar'],
    writes: false,
  },
  async ({ event }) => {
    const calendar = await event.locals.store.read((rows) => calendarOf(rows, event.params.name!));
    const file = writeClosedDays(calendar.name, calendarOptions(calendar), new Date());
    const name = calendar.name.replaceAll(/[^A-Za-z0-9]+/g, '_');
    return new Response(file, {
      headers: {
        'content-type': 'text/calendar; charset=utf-8',
        'content-disposition': `attachment; filename="${name}_closed.ics"`,
      },
    });
  },
);
