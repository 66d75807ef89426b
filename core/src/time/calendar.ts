import { ArgumentError } from '../arguments.js';
import {
  clockTime,
  DAY,
  dayNumber,
  dayOfWall,
  weekdayOf,
  type DayNumber,
  type Instant,
  type WallTime,
} from './instant.js';
import { Zone } from './zone.js';

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;
export type Weekday = (typeof WEEKDAYS)[number];

export interface CalendarOptions {
  /** IANA name, such as `Atlantic/Faroe`. */
  zone: string;
  /** Opening and closing wall-clock times, `08:30-16:30`; it may cross midnight. None: the whole calendar date. */
  session?: string;
  /** Days on which trading days fall; all seven if not given. */
  weekdays?: readonly string[];
  /** Closed dates, `2026-12-25`; one with a time, `2026-12-24 12:00`, is a day that closes early. */
  closed?: readonly string[];
  /** Whether a record at the very instant of the close belongs to the session. */
  closeIncluded?: boolean;
  /** Whether there are no dates at all: records are numbered, and kept a day apart. */
  undated?: boolean;
}

/** One trading day, in instants. Half open: `startsAt` is in it, `endsAt` is not. */
export interface TradingDay {
  date: DayNumber;
  /** The stretch whose records carry this date, whatever the hour. */
  startsAt: Instant;
  endsAt: Instant;
  /** The session; without one the same stretch. */
  opensAt: Instant;
  closesAt: Instant;
  /** Wall clock that intervals are counted from: the opening, or midnight. */
  anchor: WallTime;
  /** Whether there is trading on this date at all. */
  open: boolean;
}

/** The days and hours of a market. Worked out once a trading day, never once a row. */
export class Calendar {
  readonly zone: Zone;
  readonly hasSession: boolean;
  readonly closeIncluded: boolean;
  readonly undated: boolean;
  private readonly opening: number;
  /** From midnight of the trading day's date; a session that crosses midnight opens on the date before. */
  private readonly closing: number;
  private readonly weekdays: ReadonlySet<number>;
  private readonly closed = new Map<DayNumber, number | null>();
  private readonly days = new Map<DayNumber, TradingDay>();
  private latest: TradingDay | undefined;

  constructor(readonly options: CalendarOptions) {
    this.zone = new Zone(options.zone);
    this.hasSession = options.session !== undefined;
    this.closeIncluded = options.closeIncluded ?? false;
    this.undated = options.undated ?? false;
    [this.opening, this.closing] = options.session === undefined ? [0, DAY] : sessionTimes(options.session);
    this.weekdays = new Set(
      options.weekdays === undefined ? [0, 1, 2, 3, 4, 5, 6] : options.weekdays.map(weekdayNamed),
    );
    if (this.weekdays.size === 0) throw new ArgumentError('weekdays', `one or more of ${WEEKDAYS.join(', ')}`, 'none');
    for (const text of options.closed ?? []) {
      const [date, early] = text.trim().split(/\s+/);
      const day = dayNumber(date);
      const time = early === undefined ? null : clockTime(early);
      if (Number.isNaN(day) || Number.isNaN(time))
        throw new ArgumentError(
          'closed',
          'dates such as 2026-12-25, or 2026-12-24 12:00 for an early close',
          `"${text}"`,
        );
      this.closed.set(day, time);
    }
  }

  /** The trading day that an instant belongs to, inside its session or not. */
  dayAt(instant: Instant): TradingDay {
    const latest = this.latest;
    if (latest && instant >= latest.startsAt && instant < latest.endsAt) return latest;
    let date = dayOfWall(this.zone.wallAt(instant));
    while (instant >= this.dayOn(date).endsAt) date++;
    while (instant < this.dayOn(date).startsAt) date--;
    return (this.latest = this.dayOn(date));
  }

  /** The trading day of a date. */
  dayOn(date: DayNumber): TradingDay {
    let day = this.days.get(date);
    if (!day) this.days.set(date, (day = this.workOut(date)));
    return day;
  }

  /** The first trading day after `date` on which there is trading. */
  openDayAfter(date: DayNumber): TradingDay {
    do date++;
    while (!this.isOpen(date));
    return this.dayOn(date);
  }

  /** Whether there is trading on a date. One that the zone has skipped, by moving over the date line, is no trading day. */
  isOpen(date: DayNumber): boolean {
    return this.weekdays.has(weekdayOf(date)) && this.closed.get(date) !== null && this.dayOn(date).open;
  }

  /** The trading day after a date, open or not; a date that the zone has skipped has no instant, and is passed over. */
  dayAfter(date: DayNumber): TradingDay {
    let day = this.dayOn(date + 1);
    while (day.startsAt >= day.endsAt) day = this.dayOn(day.date + 1);
    return day;
  }

  /** Whether an instant lies inside a session. */
  inSession(instant: Instant): boolean {
    const day = this.dayAt(instant);
    return day.open && instant >= day.opensAt && instant < this.sessionEnd(day);
  }

  /** The first instant after a day's session: the close, or just past it where the close is included. */
  sessionEnd(day: TradingDay): Instant {
    return day.closesAt + (this.hasSession && this.closeIncluded ? 1 : 0);
  }

  private workOut(date: DayNumber): TradingDay {
    const midnight = date * DAY;
    const at = (wall: WallTime) => this.zone.instantOf(wall);
    const opensWall = midnight + this.opening;
    const opensAt = at(opensWall);
    const early = this.closed.get(date);
    const closesAt = at(midnight + (early ?? this.closing));
    const crosses = this.opening < 0;
    const isSkipped = at(midnight) >= at(midnight + DAY);
    return {
      date,
      opensAt,
      closesAt: Math.max(opensAt, closesAt),
      startsAt: crosses ? opensAt : at(midnight),
      endsAt: crosses ? at(opensWall + DAY) : at(midnight + DAY),
      anchor: opensWall,
      open: !isSkipped && this.weekdays.has(weekdayOf(date)) && early !== null,
    };
  }
}

/**
 * The calendar of a tape.
 * @throws {ArgumentError} for an unknown zone, a session that is no pair of times, an unknown weekday, a date that is none
 * @see definitions, section 1
 */
export function makeCalendar(options: CalendarOptions): Calendar {
  return new Calendar(options);
}

/** Opening and closing, from midnight of the date on which the session closes. */
function sessionTimes(session: string): [number, number] {
  const [open, close, more] = session.split('-').map((text) => clockTime(text.trim()));
  if (more !== undefined || Number.isNaN(open) || close === undefined || Number.isNaN(close))
    throw new ArgumentError('session', 'an opening and a closing time such as 08:30-16:30', `"${session}"`);
  const closing = close === 0 ? DAY : close; // a close at 00:00 ends the date, it does not begin the next
  return closing > open ? [open, closing] : [open - DAY, closing];
}

function weekdayNamed(name: string): number {
  const index = WEEKDAYS.indexOf(name as Weekday);
  if (index < 0) throw new ArgumentError('weekdays', `one or more of ${WEEKDAYS.join(', ')}`, `"${name}"`);
  return index;
}
