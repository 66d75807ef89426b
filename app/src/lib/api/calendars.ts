import { z } from 'zod';
import { calendarOptions, checkCalendar, type Hours, type TapeChange } from './tapes';

const CalendarName = z
  .string()
  .trim()
  .min(1)
  .max(60)
  .regex(/^[^/\\?#%]+$/, 'must be without / \\ ? # and %')
  .regex(/[^.]/, 'must be more than dots'); // an address would lead elsewhere

/** Hours and days of a market under a name, which many tapes may go by. */
export const MarketCalendar = z.object({
  name: CalendarName,
  zone: z.string(),
  session: z.string().nullable(),
  weekdays: z.array(z.string()).nullable(),
  closed: z.array(z.string()).nullable(),
  closeIncluded: z.boolean(),
});
export type MarketCalendar = z.infer<typeof MarketCalendar>;

/** A calendar as it is listed. */
export const ListedCalendar = MarketCalendar.extend({
  /** The tapes that go by it. */
  tapes: z.array(z.string()),
  /** Those of them that have other hours still: a change was broken off before it came to them. */
  behind: z.array(z.string()),
});
export type ListedCalendar = z.infer<typeof ListedCalendar>;

/** The body of `PUT /api/calendars/NAME`. */
export const CalendarBody = z
  .strictObject({
    /** Another name for it. */
    name: CalendarName.optional(),
    zone: z.string(),
    session: z.string().nullable().default(null),
    weekdays: z.array(z.string()).nullable().default(null),
    closed: z.array(z.string()).max(5000).nullable().default(null),
    closeIncluded: z.boolean().default(false),
    /** Text of an iCalendar file whose closed days are added. */
    icalendar: z.string().max(2_000_000).optional(),
  })
  .superRefine((body, context) => checkCalendar({ ...body, interval: undefined }, context));
export type CalendarBody = z.infer<typeof CalendarBody>;

/** What a change of a calendar would flag, or has flagged, in a tape. */
export const CalendarEffect = z.object({
  tape: z.string(),
  rows: z.number().int(),
  /** Records outside the session, and on closed dates, before and after. */
  outside: z.tuple([z.number().int(), z.number().int()]),
  closedDate: z.tuple([z.number().int(), z.number().int()]),
});
export type CalendarEffect = z.infer<typeof CalendarEffect>;

/** What became of a change: the calendar, the tapes that follow it, and those that could not, with the reason. */
export const CalendarChanged = z.object({
  calendar: MarketCalendar,
  changed: z.array(z.string()),
  failed: z.array(z.object({ tape: z.string(), reason: z.string() })),
});
export type CalendarChanged = z.infer<typeof CalendarChanged>;

/** A calendar as a change of a tape that is to go by it. */
export const changeTo = ({ name, zone, session, weekdays, closed, closeIncluded }: MarketCalendar): TapeChange => ({
  calendar: name,
  zone,
  session,
  weekdays,
  closed,
  closeIncluded,
});

const hoursAsText = (hours: Hours): string =>
  JSON.stringify({
    ...calendarOptions(hours),
    weekdays: hours.weekdays && hours.weekdays.length < 7 ? hours.weekdays : [],
    closed: hours.closed ?? [],
    closeIncluded: hours.closeIncluded ?? false,
  });

/** Whether two calendars have the same hours and days. */
export const isSameCalendar = (a: Hours, b: Hours): boolean => hoursAsText(a) === hoursAsText(b);
