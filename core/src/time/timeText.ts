import type { Calendar } from './calendar.js';
import { DAY, dateText, HOUR, MINUTE, SECOND, type Instant, type WallTime } from './instant.js';

const ZERO = 48;
const NINE = 57;
const COLON = 58;
const DASH = 45;
const PLUS = 43;
const DOT = 46;
const SPACE = 32;

/** Epoch seconds before 1973 are more likely to be a price in the wrong column. */
const LEAST_EPOCH_SECONDS = 1e8;

/**
 * Reads times as files write them, from bytes: RFC 3339 and ISO 8601 with and without offset, a date alone, and epoch
 * seconds, milliseconds, microseconds or nanoseconds, told apart by their size. A time without offset is of the
 * calendar's zone; a date alone is the opening of that trading day. Finer than a microsecond is cut.
 */
export class TimeReader {
  /** After a `read` that gave NaN: what is wrong with the text. */
  reason = '';
  /** After a `read`: whether the wall clock showed that time twice; the earlier was taken. */
  repeated = false;
  private dateKey = -1;
  private date: WallTime = NaN;

  constructor(private readonly calendar: Calendar) {}

  /** @returns the instant that bytes [from, to) tell; NaN where they tell none, with `reason` */
  read(bytes: Uint8Array, from: number, to: number): Instant {
    this.repeated = false;
    if (to - from >= 10 && bytes[from + 4] === DASH && bytes[from + 7] === DASH) return this.readDate(bytes, from, to);
    return this.readEpoch(bytes, from, to);
  }

  private readDate(bytes: Uint8Array, from: number, to: number): Instant {
    const year = digits(bytes, from, 4);
    const month = digits(bytes, from + 5, 2);
    const day = digits(bytes, from + 8, 2);
    const key = year * 10_000 + month * 100 + day;
    if (key !== this.dateKey) {
      // neighbours in a file are mostly of one date: it is worked out when it changes
      const millis = Date.UTC(year, month - 1, day);
      const written = `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
      if (!(key >= 0) || Number.isNaN(millis) || dateText(millis / 86_400_000) !== written)
        return this.refuse('is no date of the calendar');
      this.dateKey = key;
      this.date = millis * 1000;
    }
    if (to - from === 10) return this.calendar.dayOn(this.date / DAY).opensAt;
    const hour = digits(bytes, from + 11, 2);
    const minute = digits(bytes, from + 14, 2);
    if (!(hour <= 24 && minute < 60) || bytes[from + 13] !== COLON || to - from < 16) return this.refuse('is no time');
    let wall = this.date + hour * HOUR + minute * MINUTE;
    let at = from + 16;
    if (at < to && bytes[at] === COLON) {
      const second = digits(bytes, at + 1, 2);
      if (!(second < 61)) return this.refuse('is no time');
      wall += second * SECOND;
      at += 3;
      if (at < to && bytes[at] === DOT) {
        at++;
        let unit = SECOND / 10;
        const first = at;
        for (; at < to && bytes[at] >= ZERO && bytes[at] <= NINE; at++) {
          if (unit >= 1) wall += (bytes[at] - ZERO) * unit;
          unit /= 10;
        }
        if (at === first) return this.refuse('is no time');
      }
    }
    return this.atOffset(bytes, at, to, wall);
  }

  private atOffset(bytes: Uint8Array, from: number, to: number, wall: WallTime): Instant {
    let at = from;
    while (at < to && bytes[at] === SPACE) at++;
    if (at === to) return this.local(wall);
    const sign = bytes[at];
    if ((sign === 90 || sign === 122) && at + 1 === to) return wall;
    if (sign !== PLUS && sign !== DASH) return this.refuse('is no time');
    const hours = digits(bytes, at + 1, 2);
    const minutesAt = bytes[at + 3] === COLON ? at + 4 : at + 3;
    const minutes = minutesAt >= to ? 0 : digits(bytes, minutesAt, 2);
    if (!(hours < 24 && minutes < 60) || (minutesAt < to && minutesAt + 2 !== to))
      return this.refuse('has no offset that can be read');
    const offset = hours * HOUR + minutes * MINUTE;
    return sign === PLUS ? wall - offset : wall + offset;
  }

  private local(wall: WallTime): Instant {
    const { instant, kind } = this.calendar.zone.resolve(wall);
    if (kind === 'skipped')
      return this.refuse(`does not exist in ${this.calendar.zone.name}: the clocks go forward over it`);
    this.repeated = kind === 'repeated';
    return instant;
  }

  private readEpoch(bytes: Uint8Array, from: number, to: number): Instant {
    let at = from;
    while (at < to && bytes[at] >= ZERO && bytes[at] <= NINE) at++;
    const length = at - from;
    if (length === 0 || length > 19 || (at < to && bytes[at] !== DOT)) return this.refuse('is no time');
    // nanoseconds do not fit a double: their last three digits are cut as text
    if (length > 17) return at === to ? digits(bytes, from, length - 3) : this.refuse('is no time');
    const whole = digits(bytes, from, length);
    if (whole < LEAST_EPOCH_SECONDS) return this.refuse('is no time');
    const unit = whole < 1e11 ? SECOND : whole < 1e14 ? 1000 : 1;
    let micros = whole * unit;
    let part = unit / 10;
    for (at++; at < to; at++, part /= 10) {
      if (!(bytes[at] >= ZERO && bytes[at] <= NINE)) return this.refuse('is no time');
      if (part >= 1) micros += (bytes[at] - ZERO) * part;
    }
    return micros;
  }

  private refuse(reason: string): number {
    this.reason = reason;
    return NaN;
  }
}

/** A number of `count` digits; NaN where one is something else. */
function digits(bytes: Uint8Array, from: number, count: number): number {
  let value = 0;
  for (let at = from; at < from + count; at++) {
    const byte = bytes[at];
    if (!(byte >= ZERO && byte <= NINE)) return NaN;
    value = value * 10 + (byte - ZERO);
  }
  return value;
}
