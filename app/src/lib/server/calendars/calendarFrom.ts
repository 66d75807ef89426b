import type { CalendarBody, MarketCalendar } from '$lib/api/calendars';
import { readClosedDays } from '@jaunty-ledger/files/calendars/icalendar';

/** The calendar that a request tells, with the closed days of the iCalendar file in it. @throws {FileError} where that is none */
export function calendarFrom(known: string, { icalendar, ...told }: CalendarBody): MarketCalendar {
  const { name = known, zone, session, weekdays, closeIncluded } = told;
  const options = { zone, session: session ?? undefined };
  const further = icalendar === undefined ? [] : readClosedDays(icalendar, options, new Date()).closed;
  const closed = [...new Set([...(told.closed ?? []), ...further])].sort();
  return { name, zone, session, weekdays, closed: closed.length > 0 ? closed : null, closeIncluded };
}
