/** A guess at a session with its reason: `All 312 records lie between 09:30 and 16:00 on Monday to Friday.` */
export function guessText(
  { session, weekdays }: { session: string; weekdays: readonly string[] },
  which: string,
): string {
  const [opens, closes] = session.split('-');
  return `${which} lie between ${opens} and ${closes}${daysText(weekdays)}.`;
}

const NAMES: Readonly<Record<string, string>> = {
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
  return ` on ${weekdays.map((day) => NAMES[day]).join(', ')}`;
}
