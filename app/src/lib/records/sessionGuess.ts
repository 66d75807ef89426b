import type { HiddenRows } from '@jaunty-ledger/files/reading/preview';

/** A guess at a session with its reason: `All 312 records lie between 09:30 and 16:00 on Monday to Friday.` */
export function guessText(
  { session, weekdays }: { session: string; weekdays: readonly string[] },
  which: string,
): string {
  const [opens, closes] = session.split('-');
  return `${which} lie between ${opens} and ${closes}${daysText(weekdays)}.`;
}

/** By their short names. */
export const WEEKDAY_NAMES: Readonly<Record<string, string>> = {
  Mon: 'Monday',
  Tue: 'Tuesday',
  Wed: 'Wednesday',
  Thu: 'Thursday',
  Fri: 'Friday',
  Sat: 'Saturday',
  Sun: 'Sunday',
};

function daysText(weekdays: readonly string[]): string {
  if (weekdays.length === 7) return '';
  if (weekdays.join() === 'Mon,Tue,Wed,Thu,Fri') return ' on Monday to Friday';
  return ` on ${weekdays.map((day) => WEEKDAY_NAMES[day]).join(', ')}`;
}

/** Groups of hidden rows that are told one by one. */
const TOLD_GROUPS = 6;

/** What a session would hide: `It would hide 37 of the 4,812 rows looked at: 20 on Saturday, 17 at 17 o'clock.` */
export function hiddenText({ rows, hidden, days, hours }: HiddenRows): string {
  const of = `of the ${rows.toLocaleString('en')} rows looked at`;
  if (hidden === 0) return `These hours would hide none ${of}.`;
  const groups = [
    ...Object.values(WEEKDAY_NAMES).map((name, day) => ({ count: days[day], says: `on ${name}` })),
    ...hours.map((count, hour) => ({ count, says: `at ${hour} o'clock` })),
  ].filter(({ count }) => count > 0);
  const told = groups.sort((a, b) => b.count - a.count).slice(0, TOLD_GROUPS);
  const rest = hidden - told.reduce((sum, { count }) => sum + count, 0);
  const parts = told.map(({ count, says }) => `${count.toLocaleString('en')} ${says}`);
  if (rest > 0) parts.push(`${rest.toLocaleString('en')} at other times`);
  return `These hours would hide ${hidden.toLocaleString('en')} ${of}: ${parts.join(', ')}.`;
}
