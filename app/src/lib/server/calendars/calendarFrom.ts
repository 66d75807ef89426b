import { z } from 'zod';
import type { CalendarBody, MarketCalendar } from '$lib/api/calendars';
import type { TaskClient } from '../tasks/lane';
import { runTask } from '../tasks/runTask';

/** The calendar of a request, with the closed days of the iCalendar file in it. @throws {Refusal} if that cannot be read */
export async function calendarFrom(
  known: string,
  { icalendar, ...body }: CalendarBody,
  who: TaskClient,
): Promise<MarketCalendar> {
  const { name = known, zone, session, weekdays, closeIncluded } = body;
  const closed = new Set(body.closed ?? []);
  if (icalendar !== undefined) {
    const answer = await runTask('closedDays', { icalendar, zone, session: session ?? undefined }, who);
    for (const day of z.array(z.string()).parse(JSON.parse(new TextDecoder().decode(answer)))) closed.add(day);
  }
  return { name, zone, session, weekdays, closed: closed.size > 0 ? [...closed].sort() : null, closeIncluded };
}
