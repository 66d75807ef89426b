import type { CalendarBody, CalendarChanged, MarketCalendar } from '$lib/api/calendars';

/** A calendar in a sentence: `08:30 to 16:30 Faroe time, Mon to Fri, closed on 12 days and early on 1`. */
export function calendarText({ zone, session, weekdays, closed, closeIncluded }: Omit<MarketCalendar, 'name'>): string {
  const place = zone.split('/').at(-1)!.replaceAll('_', ' ');
  const hours = session === null ? `all hours, ${place} time` : `${session.replace('-', ' to ')} ${place} time`;
  const early = (closed ?? []).filter((day) => /\s/.test(day.trim())).length;
  const whole = (closed ?? []).length - early;
  const parts = [
    hours,
    weekdaysText(weekdays),
    whole > 0 && `closed on ${whole} ${whole === 1 ? 'day' : 'days'}`,
    early > 0 && `closing early on ${early}`,
    closeIncluded && 'the close included',
  ];
  return parts.filter(Boolean).join(', ');
}

const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** Days in a row by the first and the last of them. */
function weekdaysText(weekdays: readonly string[] | null): string {
  if (weekdays === null || weekdays.length === 7) return 'every day of the week';
  const places = weekdays.map((day) => WEEK.indexOf(day)).sort((a, b) => a - b);
  const isRow = places.length > 2 && places.every((place, at) => at === 0 || place === places[at - 1] + 1);
  return isRow ? `${WEEK[places[0]]} to ${WEEK[places.at(-1)!]}` : weekdays.join(', ');
}

/** The body that keeps a calendar as it is. */
export const bodyOf = ({ zone, session, weekdays, closed, closeIncluded }: MarketCalendar): CalendarBody => ({
  zone,
  session,
  weekdays,
  closed,
  closeIncluded,
});

/** What became of a change, in sentences. */
export function keptText({ calendar, changed, failed }: CalendarChanged): string {
  const after =
    changed.length > 0 ? ` ${changed.length} ${changed.length === 1 ? 'tape follows' : 'tapes follow'}.` : '';
  const left = failed.map(({ tape, reason }) => ` ${tape} does not: ${reason}`).join('');
  return `${calendar.name} is kept.${after}${left}`;
}

/** Words of a list that is written with commas; null where there are none. */
export function listed(text: string): string[] | null {
  const parts = text
    .split(/[,\n]/)
    .map((part) => part.trim())
    .filter(Boolean);
  return parts.length > 0 ? parts : null;
}
