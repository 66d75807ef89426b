import { TENS } from '../records/numberText.js';

const LF = 10;
const CR = 13;
const POINT = 46;
const ZERO = 48;
const COLON = 58;
const SPACE = 32;
const T = 84;
const Z = 90;
/**
 * Rows that are read before they are handed on. A loop that runs long before it ends the first time is compiled while it
 * runs, and stays half as quick as one that has been seen to end; so no call goes on for long.
 */
const ROOM = 512;
/** Bytes of the longest time and of the longest number with its delimiter, and of the end of a line. */
const TIME_BYTES = 27;
const NUMBER_BYTES = 11;
const END_BYTES = 2;

/**
 * Reads plain lines, the common case of large tapes, in one pass over their bytes into columns: a time in UTC or an epoch
 * time, then decimal numbers above 0, in the order of the columns, and nothing else. What is anything else is left to
 * others, and so are lines so near the end of the bytes that they might not be whole.
 */
export class PlainLines {
  /** Times in microseconds, then the numbers. */
  readonly columns: readonly Float64Array[];
  /** Rows of the columns that the last `read` has filled. */
  rows = 0;
  private readonly longest: number;
  /** The sixteen bytes `2026-01-05T08:30` of the last time, as numbers that are compared only, and the instants they mean. */
  private century = NaN;
  private day = 0;
  private clock = NaN;
  private midnight = NaN;
  private minuteStart = NaN;

  constructor(
    private readonly delimiter: number,
    columns: number,
  ) {
    this.columns = Array.from({ length: columns }, () => new Float64Array(ROOM));
    this.longest = TIME_BYTES + NUMBER_BYTES * (columns - 1) + END_BYTES;
  }

  /** Reads on from a line's first byte; gives where the first line starts that is not read. */
  read(bytes: Uint8Array, view: DataView, from: number): number {
    const { columns, delimiter } = this;
    const [times] = columns;
    const count = columns.length;
    const last = bytes.length - this.longest;
    let row = 0;
    let lineStart = from;
    let { century, clock, minuteStart } = this;
    lines: for (; row < ROOM && lineStart <= last; row++) {
      let at = lineStart;
      if (bytes[at + 4] === 45) {
        // neighbours are mostly of one minute
        if (view.getFloat64(at + 8) !== clock || view.getFloat64(at) !== century) {
          if (!this.takeMinute(bytes, view, at)) break;
          ({ century, clock, minuteStart } = this);
        }
        // `:SS.` and `mmmZ`, the commonest ends, each as four bytes at once: what is no digit shows in the upper halves
        const seconds = view.getInt32(at + 16, true) ^ 0x2e30303a;
        const millis = view.getInt32(at + 20, true) ^ 0x5a303030;
        if (
          ((seconds | (seconds + 0x060a00)) & 0xfff0f0ff) === 0 &&
          ((millis | (millis + 0x060606)) & 0xfff0f0f0) === 0
        ) {
          times[row] =
            minuteStart +
            ((((seconds >> 8) & 15) * 10 + (seconds >> 16)) * 1000 +
              (millis & 15) * 100 +
              ((millis >> 8) & 15) * 10 +
              (millis >> 16)) *
              1000;
          at += 24;
        } else {
          const tens = bytes[at + 17] - ZERO;
          const ones = bytes[at + 18] - ZERO;
          // a digit below its bound, as an unsigned number: what is no digit is large then
          if (bytes[at + 16] !== COLON || tens >>> 0 > 5 || ones >>> 0 > 9) break;
          let micros = 0;
          at += 19;
          if (bytes[at] === POINT) {
            const first = ++at;
            for (let digit = bytes[at] - ZERO; digit >>> 0 <= 9 && at - first < 7; digit = bytes[++at] - ZERO)
              micros = (Math.imul(micros, 10) + digit) | 0;
            const places = at - first;
            if (places === 0 || places > 6) break;
            if (places < 6) micros *= TENS[6 - places];
          }
          if (bytes[at] !== Z) break;
          at++;
          times[row] = minuteStart + ((tens * 10 + ones) * 1_000_000 + micros);
        }
      } else {
        let whole = 0;
        for (let digit = bytes[at] - ZERO; digit >>> 0 <= 9 && at - lineStart < 17; digit = bytes[++at] - ZERO)
          whole = whole * 10 + digit;
        const digits = at - lineStart;
        if (digits < 9 || digits > 16 || whole < 1e8) break;
        times[row] = whole * (whole < 1e11 ? 1e6 : whole < 1e14 ? 1000 : 1);
      }
      for (let column = 1; column < count; column++) {
        if (bytes[at++] !== delimiter) break lines;
        // up to three digits, a point and up to three more: each part from four bytes at once
        const whole = view.getInt32(at, true) ^ ZEROS;
        const digits = digitsIn(whole);
        if (digits < 4) {
          if (digits === 0) break lines;
          const units = numberOf(whole, digits);
          if (bytes[at + digits] !== POINT) {
            if (units === 0) break lines;
            columns[column][row] = units;
            at += digits;
            continue;
          }
          const part = view.getInt32(at + digits + 1, true) ^ ZEROS;
          const places = digitsIn(part);
          if (places > 0 && places < 4) {
            const mantissa = units * TENS[places] + numberOf(part, places);
            if (mantissa === 0) break lines;
            columns[column][row] = mantissa / TENS[places];
            at += digits + 1 + places;
            continue;
          }
        }
        // nine digits fit the integer unit, which is the quicker one; longer numbers go the long way
        let mantissa = 0;
        let places = 0;
        const first = at;
        let digit = bytes[at] - ZERO;
        while (digit >>> 0 <= 9) {
          mantissa = (Math.imul(mantissa, 10) + digit) | 0;
          digit = bytes[++at] - ZERO;
          if (at - first > NUMBER_BYTES) break lines;
        }
        if (at === first) break lines;
        if (digit === POINT - ZERO) {
          const pointAt = at;
          digit = bytes[++at] - ZERO;
          while (digit >>> 0 <= 9) {
            mantissa = (Math.imul(mantissa, 10) + digit) | 0;
            digit = bytes[++at] - ZERO;
            if (at - first > NUMBER_BYTES) break lines;
          }
          places = at - pointAt - 1;
        }
        // 0 has checks of its own
        if (at - first > 10 || (places === 0 && at - first > 9) || mantissa === 0) break lines;
        columns[column][row] = places === 0 ? mantissa : mantissa / TENS[places];
      }
      if (bytes[at] === CR) at++;
      if (bytes[at] !== LF) break;
      lineStart = at + 1;
    }
    this.rows = row;
    return lineStart;
  }

  /** Takes another date and minute; false where the bytes are none. */
  private takeMinute(bytes: Uint8Array, view: DataView, from: number): boolean {
    const isNewDate = view.getFloat64(from) !== this.century || view.getInt16(from + 8) !== this.day;
    if (isNewDate && !this.takeDate(bytes, from)) return false;
    const digits = [11, 12, 14, 15].map((place) => bytes[from + place] - ZERO);
    const [hourTens, hourOnes, minuteTens, minuteOnes] = digits;
    const hour = hourTens * 10 + hourOnes;
    const isApart = (bytes[from + 10] === T || bytes[from + 10] === SPACE) && bytes[from + 13] === COLON;
    if (!isApart || digits.some((digit) => digit >>> 0 > 9) || hour > 23 || minuteTens > 5) return false;
    this.century = view.getFloat64(from);
    this.day = view.getInt16(from + 8);
    this.clock = view.getFloat64(from + 8);
    this.minuteStart = this.midnight + (hour * 60 + minuteTens * 10 + minuteOnes) * 60e6;
    return true;
  }

  private takeDate(bytes: Uint8Array, from: number): boolean {
    this.century = NaN; // no minute of this date is known yet
    const text = String.fromCharCode(...bytes.subarray(from, from + 10));
    const millis = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(text) : NaN;
    // the 30th of February would come out as a day of March
    if (Number.isNaN(millis) || new Date(millis).toISOString().slice(0, 10) !== text) return false;
    this.midnight = millis * 1000;
    return true;
  }
}

/** Four bytes `0000` as one number: characters with these bits turned are the digits that they show. */
const ZEROS = 0x30303030;

/** How many of four bytes, from the lowest on, are digits before the first that is none. */
function digitsIn(word: number): number {
  // what is no digit shows in the upper half of its byte, or does once 6 are added
  const others = (word | (word + 0x06060606)) & 0xf0f0f0f0;
  return others === 0 ? 4 : (31 - Math.clz32(others & -others)) >> 3;
}

/** The number that the lowest bytes are, one to three digits with the first in the lowest. */
function numberOf(word: number, digits: number): number {
  const four = word << (32 - 8 * digits);
  const pairs = Math.imul(four, 10) + (four >>> 8);
  return (pairs & 255) * 100 + ((pairs >>> 16) & 255);
}
