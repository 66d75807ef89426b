import { DAY, dateText, dayOfWall, makeCalendar, type CalendarOptions } from '@jaunty-ledger/core';
import {
  convertIcsCalendar,
  extendByRecurrenceRule,
  generateIcsCalendar,
  type IcsCalendar,
  type IcsEvent,
} from 'ts-ics';
import { FileError } from '../fileError.js';
import { requireShortCalendar } from './requireShortCalendar.js';

/* Closed days of a market as an iCalendar file (RFC 5545), and out of one. */

/** Days of a calendar at most, those of rules that go on included. */
const MOST_DAYS = 5000;
/** Years that a rule without an end is followed on. */
const YEARS_ON = 10;

/** Closed days that a file tells, and what of it says nothing of days. */
export interface ClosedDays {
  /** `2026-12-25`, or `2026-12-24 12:00` for one that closes early, in order. */
  closed: string[];
  /** Events that lie within a day and do not reach its end. */
  passedOver: number;
}

/**
 * Reads the closed days of an iCalendar file: each day of an event of whole days, and the days on which an event begins
 * within the session and lasts to its end. Rules that repeat an event are followed for ten years.
 * @param calendar  whose clock tells when an event begins, and whose session when a day ends
 * @throws {FileError} for a file that is no iCalendar
 */
export function readClosedDays(text: string, calendar: CalendarOptions, now: Date): ClosedDays {
  const found = new Set<string>();
  let passedOver = 0;
  const { zone } = makeCalendar({ zone: calendar.zone });
  const closing = /-(\d\d:\d\d)$/.exec(calendar.session ?? '')?.[1] ?? '24:00';
  for (const event of eventsOf(text, now)) {
    const { start } = event;
    const isWhole = start.type === 'DATE';
    const length = isWhole ? Math.max(1, daysBetween(start.date, endOf(event))) : 0;
    for (const begin of startsOf(event, now)) {
      if (isWhole) {
        const first = Math.floor(begin.getTime() / 86_400_000);
        for (let day = first; day < first + Math.min(length, 400); day++) found.add(dateText(day));
        continue;
      }
      const from = zone.wallAt(begin.getTime() * 1000);
      const lasts = endOf(event).getTime() - start.date.getTime();
      const to = from + lasts * 1000;
      const day = dayOfWall(from);
      const [opens, closes] = [from - day * DAY, to - day * DAY];
      if (closes < clockOf(closing)) passedOver++;
      else found.add(opens === 0 ? dateText(day) : `${dateText(day)} ${clockText(opens)}`);
    }
    if (found.size > MOST_DAYS)
      throw new FileError('too-large', `The calendar has more than ${MOST_DAYS.toLocaleString('en')} closed days.`);
  }
  return { closed: [...found].sort(), passedOver };
}

/** The closed days of a calendar as an iCalendar file: whole days as events of a day, early closes as events to midnight. */
export function writeClosedDays(name: string, { zone, closed = [] }: CalendarOptions, now: Date): string {
  const clock = makeCalendar({ zone }).zone;
  const events = closed.map((text): IcsEvent => {
    const [date, early] = text.trim().split(/\s+/);
    const day = Date.parse(`${date}T00:00:00Z`);
    const own = {
      uid: `${date}-${name.replaceAll(/[^A-Za-z0-9]+/g, '-')}@jaunty-ledger`,
      stamp: { date: now },
    };
    if (early === undefined)
      return {
        ...own,
        summary: `${name}: closed`,
        start: { date: new Date(day), type: 'DATE' },
        end: { date: new Date(day + 86_400_000), type: 'DATE' },
      };
    const at = (wall: number) => ({ date: new Date(clock.instantOf(wall) / 1000), type: 'DATE-TIME' as const });
    return {
      ...own,
      summary: `${name}: closes at ${early}`,
      start: at(day * 1000 + clockOf(early)),
      end: at(day * 1000 + DAY),
    };
  });
  return generateIcsCalendar({ version: '2.0', prodId: '-//Jaunty Ledger//Closed days//EN', events });
}

function eventsOf(text: string, now: Date): IcsEvent[] {
  if (!/^\s*\uFEFF?BEGIN:VCALENDAR/i.test(text))
    throw new FileError('unreadable-lines', 'This is no iCalendar file: it does not begin with BEGIN:VCALENDAR.', {
      line: 1,
    });
  requireShortCalendar(text, now);
  let calendar: IcsCalendar;
  try {
    calendar = convertIcsCalendar(undefined, text);
  } catch (cause) {
    const says = cause instanceof Error ? cause.message.slice(0, 200) : String(cause);
    throw new FileError('unreadable-lines', `The iCalendar file cannot be read: ${says}.`, { cause });
  }
  const events = calendar.events ?? [];
  const broken = events.findIndex(({ start }) => !(start?.date instanceof Date) || Number.isNaN(start.date.getTime()));
  if (broken >= 0) throw new FileError('unreadable-lines', `Event ${broken + 1} of the iCalendar file has no start.`);
  return events;
}

function startsOf({ start, recurrenceRule, exceptionDates }: IcsEvent, now: Date): Date[] {
  if (!recurrenceRule) return [start.date];
  const end = new Date(Date.UTC(now.getUTCFullYear() + YEARS_ON, 11, 31));
  // what is left out counts among those that the rule makes, so it is taken away afterwards
  const without = new Set(exceptionDates?.map(({ date }) => date.getTime()));
  const until =
    recurrenceRule.until && recurrenceRule.until.date < end ? recurrenceRule.until : { ...start, date: end };
  return extendByRecurrenceRule({ ...recurrenceRule, until }, { start: start.date, end })
    .filter((date) => !without.has(date.getTime()))
    .slice(0, MOST_DAYS + 1);
}

function endOf(event: IcsEvent): Date {
  if (event.end) return event.end.date;
  const { date, type } = event.start;
  if (!event.duration) return type === 'DATE' ? new Date(date.getTime() + 86_400_000) : date;
  const { weeks = 0, days = 0, hours = 0, minutes = 0, seconds = 0 } = event.duration;
  return new Date(date.getTime() + ((((weeks * 7 + days) * 24 + hours) * 60 + minutes) * 60 + seconds) * 1000);
}

const daysBetween = (from: Date, to: Date): number => Math.round((to.getTime() - from.getTime()) / 86_400_000);

const clockOf = (text: string): number => {
  const [hours, minutes] = text.split(':').map(Number);
  return (hours * 60 + minutes) * 60e6;
};

const clockText = (micros: number): string => {
  const minutes = Math.floor(micros / 60e6);
  return `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
};
