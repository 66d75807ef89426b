import { TENS } from './numberText';

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
  /** The sixteen bytes `2026-01-05T08:30` of the last time as four numbers, and the instants that they mean. */
  private century = 0;
  private month = 0;
  private day = 0;
  private clock = 0;
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
    lines: for (; row < ROOM && lineStart <= last; row++) {
      let at = lineStart;
      if (bytes[at + 4] === 45) {
        // neighbours are mostly of one minute
        if (
          (view.getInt32(at) !== this.century ||
            view.getInt32(at + 4) !== this.month ||
            view.getInt32(at + 8) !== this.day ||
            view.getInt32(at + 12) !== this.clock) &&
          !this.takeMinute(bytes, view, at)
        )
          break;
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
        times[row] = this.minuteStart + ((tens * 10 + ones) * 1_000_000 + micros);
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
    const day = view.getInt32(from + 8);
    const isNewDate =
      view.getInt32(from) !== this.century || view.getInt32(from + 4) !== this.month || day >> 16 !== this.day >> 16;
    if (isNewDate && !this.takeDate(bytes, from)) return false;
    const digits = [11, 12, 14, 15].map((place) => bytes[from + place] - ZERO);
    const [hourTens, hourOnes, minuteTens, minuteOnes] = digits;
    const hour = hourTens * 10 + hourOnes;
    const isApart = (bytes[from + 10] === T || bytes[from + 10] === SPACE) && bytes[from + 13] === COLON;
    if (!isApart || digits.some((digit) => digit >>> 0 > 9) || hour > 23 || minuteTens > 5) return false;
    this.century = view.getInt32(from);
    this.month = view.getInt32(from + 4);
    this.day = day;
    this.clock = view.getInt32(from + 12);
    this.minuteStart = this.midnight + (hour * 60 + minuteTens * 10 + minuteOnes) * 60e6;
    return true;
  }

  private takeDate(bytes: Uint8Array, from: number): boolean {
    const text = String.fromCharCode(...bytes.subarray(from, from + 10));
    const millis = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(text) : NaN;
    // the 30th of February would come out as a day of March
    if (Number.isNaN(millis) || new Date(millis).toISOString().slice(0, 10) !== text) return false;
    this.century = 0; // no minute of this date is known yet
    this.midnight = millis * 1000;
    return true;
  }
}
