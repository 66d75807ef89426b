import type { Calendar, TradingDay } from '../time/calendar.js';
import { HOUR, type DayNumber, type Instant } from '../time/instant.js';
import { nextPeriod, periodStart, type PeriodUnit } from '../time/periods.js';

/**
 * The intervals of one kind of time bar, in order. A walk looks up the interval of an instant, then reads `start`,
 * `end` and `until`; nothing is worked out more than once a trading day.
 */
export interface TimeIntervals {
  /** Moves to the interval that holds the instant. False where it lies outside the hours that are kept. */
  seek(instant: Instant): boolean;
  /** Moves to the next interval in order. */
  next(): void;
  /** The bar that the current interval makes. */
  readonly start: Instant;
  readonly end: Instant;
  /** Up to here (not included) every instant is in the interval: its end, or the end of the session in it. */
  readonly until: Instant;
  /** After a `seek` that was false: up to here (not included) no instant is in any interval. */
  readonly outsideUntil: Instant;
}

/** Intervals of a fixed length within each trading day, by the wall clock. */
export class ClockIntervals implements TimeIntervals {
  start: Instant = NaN;
  end: Instant = NaN;
  until: Instant = NaN;
  outsideUntil: Instant = NaN;
  private day: TradingDay | undefined;
  /** Starts of the day's intervals, and the end of the last. */
  private bounds: Instant[] = [];
  private index = 0;

  constructor(
    private readonly calendar: Calendar,
    private readonly micros: number,
    private readonly allHours: boolean,
  ) {}

  seek(instant: Instant): boolean {
    const day = this.calendar.dayAt(instant);
    if (!this.allHours) {
      const outside = outsideUntil(this.calendar, day, instant);
      if (outside !== undefined) {
        this.outsideUntil = outside;
        return false;
      }
    }
    if (day !== this.day) this.enter(day);
    const last = this.bounds.length - 2;
    // a record at an included close belongs to the last interval, which ends there
    while (this.index < last && instant >= this.bounds[this.index + 1]) this.index++;
    if (instant < this.bounds[this.index]) {
      this.index = 0;
      while (this.index < last && instant >= this.bounds[this.index + 1]) this.index++;
    }
    this.settle();
    return true;
  }

  next(): void {
    if (this.index + 2 < this.bounds.length) this.index++;
    else {
      const { date } = this.day!;
      this.enter(this.allHours ? this.calendar.dayAfter(date) : this.calendar.openDayAfter(date));
    }
    this.settle();
  }

  private enter(day: TradingDay): void {
    this.day = day;
    this.index = 0;
    const [from, to] = this.allHours ? [day.startsAt, day.endsAt] : [day.opensAt, day.closesAt];
    this.bounds = intervalBounds(this.calendar, day, from, to, this.micros);
  }

  private settle(): void {
    this.start = this.bounds[this.index];
    this.end = this.bounds[this.index + 1];
    const isLast = this.index + 2 === this.bounds.length;
    this.until = isLast && !this.allHours ? this.calendar.sessionEnd(this.day!) : this.end;
  }
}

/**
 * Where the intervals of a trading day start, and where the last one ends.
 *
 * Within a stretch of constant offset they follow the wall clock. A change forward starts a new interval where the
 * index moves on. After a change back the second pass starts anew where the interval divides an hour; else the index
 * waits until the wall clock has passed it for the second time.
 */
function intervalBounds(calendar: Calendar, day: TradingDay, from: Instant, to: Instant, micros: number): Instant[] {
  const { zone } = calendar;
  const passesApart = HOUR % micros === 0;
  const bounds: Instant[] = [];
  let reached = -Infinity; // the highest index so far
  let stretchFrom = from;
  let offset = zone.offsetAt(from);
  while (stretchFrom < to) {
    const stretchTo = Math.min(to, zone.changeAfter(stretchFrom));
    const origin = day.anchor - offset; // the instant of index 0 if this offset held all day
    let index = Math.floor((stretchFrom - origin) / micros);
    if (bounds.length === 0 || index > reached) bounds.push(stretchFrom);
    else if (passesApart && offset < zone.offsetAt(stretchFrom - 1)) bounds.push(stretchFrom);
    else index = Math.max(index, reached);
    for (index++; origin + index * micros < stretchTo; index++) bounds.push(origin + index * micros);
    reached = passesApart ? index - 1 : Math.max(reached, index - 1);
    stretchFrom = stretchTo;
    if (stretchFrom < to) offset = zone.offsetAt(stretchFrom);
  }
  bounds.push(to);
  return bounds;
}

/** Days, weeks, months, quarters and years of trading days. */
export class PeriodIntervals implements TimeIntervals {
  start: Instant = NaN;
  end: Instant = NaN;
  until: Instant = NaN;
  outsideUntil: Instant = NaN;
  private firstDate: DayNumber = NaN;
  private endDate: DayNumber = NaN;

  constructor(
    private readonly calendar: Calendar,
    private readonly unit: PeriodUnit,
    private readonly allHours: boolean,
  ) {}

  seek(instant: Instant): boolean {
    const day = this.calendar.dayAt(instant);
    if (!this.allHours) {
      const outside = outsideUntil(this.calendar, day, instant);
      if (outside !== undefined) {
        this.outsideUntil = outside;
        return false;
      }
    }
    if (!(day.date >= this.firstDate && day.date < this.endDate)) this.enter(day.date);
    this.until = this.allHours ? day.endsAt : this.calendar.sessionEnd(day);
    return true;
  }

  next(): void {
    do this.enter(this.endDate);
    while (Number.isNaN(this.start));
  }

  /** A period without one open day has no start and is passed over. */
  private enter(date: DayNumber): void {
    this.firstDate = periodStart(date, this.unit);
    this.endDate = nextPeriod(this.firstDate, this.unit);
    this.start = NaN;
    for (let day = this.firstDate; day < this.endDate; day++) {
      const { startsAt, endsAt, opensAt, closesAt, open } = this.calendar.dayOn(day);
      // a date that the zone has skipped has no instant
      if (this.allHours ? startsAt >= endsAt : !open) continue;
      if (Number.isNaN(this.start)) this.start = this.allHours ? startsAt : opensAt;
      this.end = this.allHours ? endsAt : closesAt;
    }
    this.until = this.end;
  }
}

/** Up to when an instant's surroundings lie outside all sessions; undefined where it is inside one. */
export function outsideUntil(calendar: Calendar, day: TradingDay, instant: Instant): Instant | undefined {
  if (day.open && instant < day.opensAt) return day.opensAt;
  if (day.open && instant < calendar.sessionEnd(day)) return undefined;
  return calendar.openDayAfter(day.date).opensAt;
}
