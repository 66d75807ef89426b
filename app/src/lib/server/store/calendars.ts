import { refuse } from '$lib/api/problems';
import type { ListedCalendar, MarketCalendar } from '$lib/api/calendars';
import { fromJson, toJson } from './json';
import type { Rows } from './store';

interface CalendarRow {
  name_key: string;
  name: string;
  zone: string;
  session: string | null;
  weekdays: string | null;
  closed: string | null;
  close_included: number;
}

const keyOf = (name: string): string => name.toLowerCase();

const toCalendar = ({ name, zone, session, weekdays, closed, close_included }: CalendarRow): MarketCalendar => ({
  name,
  zone,
  session,
  weekdays: fromJson<string[] | null>(weekdays),
  closed: fromJson<string[] | null>(closed),
  closeIncluded: close_included === 1,
});

/** All calendars by name, each with the tapes that go by it. */
export async function listCalendars(rows: Rows): Promise<ListedCalendar[]> {
  const calendars = await rows<CalendarRow>('calendar').orderBy('name_key');
  const isSame = ['zone', 'session', 'weekdays', 'closed', 'close_included']
    .map((column) => `tape.${column} is not distinct from calendar.${column}`)
    .join(' and ');
  const followers: { tape: string; calendar: string; is_same: number }[] = await rows('tape')
    .join('calendar', 'tape.calendar', 'calendar.name')
    .whereNull('tape.deleted_at')
    .orderBy('tape.name')
    .select('tape.name as tape', 'calendar.name as calendar', rows.raw(`${isSame} as is_same`));
  return calendars.map((row) => {
    const own = followers.filter(({ calendar }) => calendar === row.name);
    return {
      ...toCalendar(row),
      tapes: own.map(({ tape }) => tape),
      behind: own.flatMap(({ tape, is_same }) => (is_same ? [] : [tape])),
    };
  });
}

export async function findCalendar(rows: Rows, name: string): Promise<MarketCalendar | undefined> {
  const row = await rows<CalendarRow>('calendar')
    .where({ name_key: keyOf(name) })
    .first();
  return row && toCalendar(row);
}

/** @throws {Refusal} where there is none of that name */
export async function calendarOf(rows: Rows, name: string): Promise<MarketCalendar> {
  const found = await findCalendar(rows, name);
  if (!found) throw refuse('unknown-calendar', `No calendar is called ${name}.`);
  return found;
}

/**
 * Keeps a calendar in the place of the one that was called `known`, if there was one. Tapes keep to it under its new name.
 * @throws {Refusal} where another one has the name
 */
export async function keepCalendar(rows: Rows, known: string, calendar: MarketCalendar): Promise<void> {
  const [key, keyBefore] = [keyOf(calendar.name), keyOf(known)];
  const before = (await findCalendar(rows, known))?.name;
  if (key !== keyBefore && (await findCalendar(rows, calendar.name)))
    throw refuse('name-taken', `A calendar is called ${calendar.name} already. Choose another name.`);
  await rows<CalendarRow>('calendar').where({ name_key: keyBefore }).delete();
  await rows<CalendarRow>('calendar').insert({
    name_key: key,
    name: calendar.name,
    zone: calendar.zone,
    session: calendar.session,
    weekdays: toJson(calendar.weekdays),
    closed: toJson(calendar.closed),
    close_included: calendar.closeIncluded ? 1 : 0,
  });
  if (before !== undefined && before !== calendar.name)
    await rows<{ calendar: string | null }>('tape').where({ calendar: before }).update({ calendar: calendar.name });
}

/** Forgets a calendar. Tapes that went by it keep their hours as their own. */
export async function forgetCalendar(rows: Rows, { name }: MarketCalendar): Promise<void> {
  await rows<CalendarRow>('calendar')
    .where({ name_key: keyOf(name) })
    .delete();
  await rows<{ calendar: string | null }>('tape').where({ calendar: name }).update({ calendar: null });
}
