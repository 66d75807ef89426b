import { readClosedDays } from '@jaunty-ledger/files/calendars/icalendar';
import type { TaskKind } from './taskKind';

/** The closed days of an iCalendar file as JSON: parsed on a thread, since foreign files can take a parser long. */
export const closedDays: TaskKind<{ icalendar: string; zone: string; session: string | undefined }> = {
  records: ({ icalendar }) => icalendar.length / 10,
  run: async ({ icalendar, zone, session }) =>
    new TextEncoder().encode(JSON.stringify(readClosedDays(icalendar, { zone, session }, new Date()).closed)),
};
