import type { Calendar } from './calendar.js';
import {
  PRECISIONS,
  readClockText,
  readDatedText,
  type DatedText,
  type DateOrder,
  type Precision,
} from './datedText.js';
import { DAY, HOUR, MINUTE, SECOND, type DayNumber, type Instant, type WallTime } from './instant.js';

const ZERO = 48;
const NINE = 57;
const COLON = 58;
const DASH = 45;
const PLUS = 43;
const DOT = 46;
const SLASH = 47;
const SPACE = 32;

/** Epoch seconds before 1973 are more likely to be a price in the wrong column. */
const LEAST_EPOCH_SECONDS = 1e8;

/** Bytes of a time that are looked at. */
const MOST_TEXT = 64;

const isDigit = (byte: number): boolean => byte >= ZERO && byte <= NINE;
const isDateMark = (byte: number): boolean => byte === DASH || byte === SLASH || byte === DOT;

/**
 * Reads times as files write them, from bytes: RFC 3339 and ISO 8601 with and without offset, dates with the day or the
 * month first, a date alone, a date and a clock time from two fields, and epoch seconds, milliseconds, microseconds or
 * nanoseconds, told apart by their size. A time without offset is of the calendar's zone; a date alone is the opening of
 * that trading day. Finer than a microsecond is cut.
 */
export class TimeReader {
  /** After a `read` that gave NaN: what is wrong with the text. */
  reason = '';
  /** The finest precision of the times that were read; coarsest where none was. */
  precision: Precision = 'period';
  /** Whether any of them told its offset from UTC. */
  hasOffset = false;
  /** After a `read`: whether the wall clock showed that time twice; the earlier was taken. */
  repeated = false;
  /** The date read last, by its text as a number: neighbours in a file are mostly of one date. */
  private dateKey = -1;
  private day: DayNumber = NaN;
  /** Whether what is wrong is so however the time is written. */
  private isFinal = false;
  /** Where the part that was read last ends. */
  private at = 0;

  constructor(
    private readonly calendar: Calendar,
    private readonly order: DateOrder = 'year-first',
  ) {}

  /** @returns the instant that bytes [from, to) tell; NaN where they tell none, with `reason` */
  read(bytes: Uint8Array, from: number, to: number): Instant {
    this.repeated = false;
    const plain = this.readPlain(bytes, from, to);
    if (!Number.isNaN(plain) || this.isFinal) return plain;
    const dated = readDatedText(textOf(bytes, from, to), this.order);
    return dated ? this.instantOf(dated) : plain;
  }

  /** What is read in one pass over the bytes: by far the most frequent ways to write a time. */
  private readPlain(bytes: Uint8Array, from: number, to: number): Instant {
    this.isFinal = false;
    if (!this.readDay(bytes, from, to)) return this.reason === '' ? this.readEpoch(bytes, from, to) : NaN;
    const { at } = this;
    if (at === to) {
      this.note('day');
      return this.calendar.dayOn(this.day).opensAt;
    }
    if (bytes[at] !== SPACE && bytes[at] !== 84 && bytes[at] !== 116) return this.refuse('is no time');
    return this.readClock(bytes, at + 1, to, this.day * DAY);
  }

  /** The instant of a date in one field and a clock time in another. */
  readParts(
    date: Uint8Array,
    dateFrom: number,
    dateTo: number,
    clock: Uint8Array,
    clockFrom: number,
    clockTo: number,
  ): Instant {
    this.repeated = false;
    this.isFinal = false;
    const isPlain = this.readDay(date, dateFrom, dateTo) && this.at === dateTo;
    const plain = isPlain ? this.readClock(clock, clockFrom, clockTo, this.day * DAY) : NaN;
    if (!Number.isNaN(plain) || this.isFinal) return plain;
    const refused = this.reason || 'is no date';
    const dated = readDatedText(textOf(date, dateFrom, dateTo), this.order);
    if (!dated || dated.precision === 'moment') return this.refuse(refused);
    const time = textOf(clock, clockFrom, clockTo);
    if (time === '') return this.instantOf(dated);
    // a clock without its leading zero, as spreadsheets write 0930
    const told = readClockText(/^\d{3}$|^\d{5}$/.test(time) ? `0${time}` : time);
    return told ? this.instantOf({ ...dated, precision: 'moment', ...told }) : this.refuse('is no time');
  }

  /** The instant of a time that was read from text. Days are the opening of theirs; longer stretches begin at midnight. */
  private instantOf({ day, precision, clock, offset }: DatedText): Instant {
    this.note(precision);
    if (precision === 'day') return this.calendar.dayOn(day).opensAt;
    const wall = day * DAY + clock;
    if (offset === undefined) return this.local(wall);
    this.hasOffset = true;
    return wall - offset;
  }

  private note(precision: Precision): void {
    if (PRECISIONS.indexOf(precision) < PRECISIONS.indexOf(this.precision)) this.precision = precision;
  }

  /** Reads a date into `day`, and where it ends into `at`. False, without a reason, where no date begins there. */
  private readDay(bytes: Uint8Array, from: number, to: number): boolean {
    this.reason = '';
    let at = from;
    let length = 0;
    while (at < to && isDigit(bytes[at]) && length < 9) {
      at++;
      length++;
    }
    if (length === 8 && (at === to || !isDigit(bytes[at])) && (at === to || bytes[at] !== DOT))
      return this.setDay(digits(bytes, from, 4), digits(bytes, from + 4, 2), digits(bytes, from + 6, 2), at);
    const mark = bytes[at];
    if (at >= to || !isDateMark(mark) || (length !== 4 && length > 2) || length === 0) return false;
    const first = digits(bytes, from, length);
    const secondFrom = ++at;
    while (at < to && isDigit(bytes[at]) && at - secondFrom < 2) at++;
    if (at === secondFrom || bytes[at] !== mark || at >= to) return false;
    const second = digits(bytes, secondFrom, at - secondFrom);
    const thirdFrom = ++at;
    while (at < to && isDigit(bytes[at]) && at - thirdFrom < 4) at++;
    const thirdLength = at - thirdFrom;
    if (thirdLength === 0) return false;
    const third = digits(bytes, thirdFrom, thirdLength);
    if (length === 4) return this.setDay(first, second, third, at);
    const year = thirdLength <= 2 ? third + (third < 69 ? 2000 : 1900) : third;
    return this.order === 'month-first' ? this.setDay(year, first, second, at) : this.setDay(year, second, first, at);
  }

  private setDay(year: number, month: number, day: number, at: number): boolean {
    this.at = at;
    const key = year * 10_000 + month * 100 + day;
    if (key === this.dateKey) return true;
    const millis = Date.UTC(year, month - 1, day);
    const back = new Date(millis);
    if (year < 1000 || back.getUTCMonth() !== month - 1 || back.getUTCDate() !== day) {
      this.reason = 'is no date of the calendar';
      return false;
    }
    this.dateKey = key;
    this.day = millis / 86_400_000;
    return true;
  }

  /** `HH:MM`, with seconds and their decimals, AM or PM, and an offset, or `HHMMSS`. */
  private readClock(bytes: Uint8Array, from: number, to: number, midnight: WallTime): Instant {
    let at = from;
    while (at < to && bytes[at] === SPACE) at++;
    const hourDigits = bytes[at + 1] === COLON ? 1 : 2;
    let hour = digits(bytes, at, hourDigits);
    const isColon = bytes[at + hourDigits] === COLON;
    at += hourDigits + (isColon ? 1 : 0);
    const minute = at + 2 <= to ? digits(bytes, at, 2) : NaN;
    at += 2;
    let wall = minute * MINUTE;
    const hasSeconds = at < to && (isColon ? bytes[at] === COLON : isDigit(bytes[at]));
    if (hasSeconds) {
      at += isColon ? 1 : 0;
      const second = at + 2 <= to ? digits(bytes, at, 2) : NaN;
      if (!(second < 61)) return this.refuse('is no time');
      wall += second * SECOND;
      at += 2;
      if (at < to && bytes[at] === DOT) {
        const first = ++at;
        for (let unit = SECOND / 10; at < to && isDigit(bytes[at]); at++, unit /= 10)
          if (unit >= 1) wall += (bytes[at] - ZERO) * unit;
        if (at === first) return this.refuse('is no time');
      }
    }
    while (at < to && bytes[at] === SPACE) at++;
    const letter = bytes[at] | 32; // lower case
    if (at + 2 === to && (letter === 97 || letter === 112) && (bytes[at + 1] | 32) === 109) {
      if (!(hour >= 1 && hour <= 12)) return this.refuse('is no time');
      hour = (hour % 12) + (letter === 112 ? 12 : 0);
      at = to;
    }
    if (!(hour <= 24 && minute < 60)) return this.refuse('is no time');
    return this.atOffset(bytes, at, to, midnight + hour * HOUR + wall);
  }

  private atOffset(bytes: Uint8Array, at: number, to: number, wall: WallTime): Instant {
    this.precision = 'moment';
    if (at === to) return this.local(wall);
    const sign = bytes[at];
    if ((sign === 90 || sign === 122) && at + 1 === to) {
      this.hasOffset = true;
      return wall;
    }
    if (sign !== PLUS && sign !== DASH) return this.refuse('is no time');
    const hours = digits(bytes, at + 1, 2);
    const minutesAt = bytes[at + 3] === COLON ? at + 4 : at + 3;
    const minutes = minutesAt >= to ? 0 : digits(bytes, minutesAt, 2);
    if (!(hours < 24 && minutes < 60) || (minutesAt < to && minutesAt + 2 !== to))
      return this.refuse('has no offset that can be read');
    const offset = hours * HOUR + minutes * MINUTE;
    this.hasOffset = true;
    return sign === PLUS ? wall - offset : wall + offset;
  }

  private local(wall: WallTime): Instant {
    const { instant, kind } = this.calendar.zone.resolve(wall);
    this.isFinal = true;
    if (kind === 'skipped')
      return this.refuse(`does not exist in ${this.calendar.zone.name}: the clocks go forward over it`);
    this.repeated = kind === 'repeated';
    return instant;
  }

  private readEpoch(bytes: Uint8Array, from: number, to: number): Instant {
    let at = from;
    while (at < to && isDigit(bytes[at])) at++;
    const length = at - from;
    if (length === 0 || length > 19 || (at < to && bytes[at] !== DOT)) return this.refuse('is no time');
    // nanoseconds do not fit a double: their last three digits are cut as text
    if (length > 17) return at === to ? digits(bytes, from, length - 3) : this.refuse('is no time');
    const whole = digits(bytes, from, length);
    if (whole < LEAST_EPOCH_SECONDS) return this.refuse('is no time');
    this.precision = 'moment';
    this.hasOffset = true;
    const unit = whole < 1e11 ? SECOND : whole < 1e14 ? 1000 : 1;
    let micros = whole * unit;
    let part = unit / 10;
    for (at++; at < to; at++, part /= 10) {
      if (!isDigit(bytes[at])) return this.refuse('is no time');
      if (part >= 1) micros += (bytes[at] - ZERO) * part;
    }
    return micros;
  }

  private refuse(reason: string): number {
    this.reason = reason;
    return NaN;
  }
}

const textOf = (bytes: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...bytes.subarray(from, Math.min(to, from + MOST_TEXT))).trim();

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
