import { FileError } from '../fileError.js';

/* What a calendar would grow to, checked by its lines before it is parsed: a rule of 60 bytes may repeat without end, and
   components that are nested or left open take a parser time with the square of their number. */

const MAX_DEPTH = 4;
const MAX_COMPONENTS = 20_000;
/** Times that one rule may repeat: each day of 54 years. */
const MAX_REPEATS = 20_000;
const MAX_TIMES_A_PERIOD = 400;
/** Years that a rule is followed beyond today, as the reader does. */
const YEARS_AHEAD = 10;

const DAYS_OF: Record<string, number> = { DAILY: 1, WEEKLY: 7, MONTHLY: 28, YEARLY: 365 };

/** @throws {FileError} with the line at fault */
export function requireShortCalendar(text: string, now: Date): void {
  const lines = text.replaceAll(/\r?\n[ \t]/g, '').split(/\r\n|\r|\n/);
  const open: { name: string; number: number }[] = [];
  let components = 0;
  const rules: { line: number; value: string; component: number }[] = [];
  const years = new Map<number, number>();
  for (const [at, content] of lines.entries()) {
    const [, name = '', value = ''] = /^([A-Za-z-]+)(?:;[^:]*)?:(.*)$/.exec(content) ?? [];
    const refuse = (reason: string) =>
      new FileError('unreadable-lines', `The iCalendar file cannot be read: ${reason}.`, { line: at + 1 });
    const inside = open.at(-1)?.number ?? -1;
    switch (name.toUpperCase()) {
      case 'BEGIN':
        open.push({ name: value.toUpperCase(), number: components });
        if (open.length > MAX_DEPTH) throw refuse(`components are nested more than ${MAX_DEPTH} deep`);
        if (open.findIndex(({ name: outer }) => outer === value.toUpperCase()) < open.length - 1)
          throw refuse(`${value.slice(0, 20)} lies within another`);
        if (++components > MAX_COMPONENTS)
          throw refuse(`it has more than ${MAX_COMPONENTS.toLocaleString('en')} components`);
        break;
      case 'END':
        if (open.pop()?.name !== value.toUpperCase()) throw refuse(`END:${value.slice(0, 20)} ends no component`);
        break;
      case 'DTSTART':
        years.set(inside, Math.min(years.get(inside) ?? Infinity, Number(/(\d{4})\d{4}/.exec(value)?.[1] ?? 0)));
        break;
      case 'RRULE':
        rules.push({ line: at + 1, value, component: inside });
        break;
    }
  }
  if (open.length > 0)
    throw new FileError('unreadable-lines', `The iCalendar file cannot be read: ${open.at(-1)!.name} does not end.`);
  const lastYear = now.getUTCFullYear() + YEARS_AHEAD;
  for (const { line, value, component } of rules) requireShortRule(value, line, years.get(component), lastYear);
}

function requireShortRule(text: string, line: number, firstYear: number | undefined, lastYear: number): void {
  const refuse = (reason: string) =>
    new FileError('unreadable-lines', `The rule ${text.slice(0, 80)} cannot be used: ${reason}.`, { line });
  const parts = new Map(
    text.split(';').map((part): [string, string] => {
      const [key, ...value] = part.split('=');
      return [key.trim().toUpperCase(), value.join('=').trim()];
    }),
  );
  const frequency = parts.get('FREQ')?.toUpperCase() ?? '';
  const days = Object.hasOwn(DAYS_OF, frequency) ? DAYS_OF[frequency] : undefined;
  if (days === undefined) throw refuse('closed days repeat DAILY, WEEKLY, MONTHLY or YEARLY');
  for (const name of ['INTERVAL', 'COUNT'])
    if (parts.has(name) && !/^[1-9]\d{0,5}$/.test(parts.get(name)!))
      throw refuse(`${name} is a whole number from 1 to 999999`);
  const interval = Number(parts.get('INTERVAL') ?? 1);
  const repeats = ((lastYear - (firstYear ?? lastYear) + 1) * 366) / (days * interval);
  if (repeats > MAX_REPEATS)
    throw refuse(`since ${firstYear} it repeats more than ${MAX_REPEATS.toLocaleString('en')} times`);
  let times = 1;
  for (const [name, value] of parts) if (name.startsWith('BY')) times *= value.split(',').length;
  if (times > MAX_TIMES_A_PERIOD) throw refuse(`it repeats more than ${MAX_TIMES_A_PERIOD} times a period`);
}
