import { parse, type Info, type Parser } from 'csv-parse';
import { refuse, Refusal } from '$lib/api/problems';
import type { Reading } from '$lib/api/reading';
import { TENS } from './numberText';
import type { RecordReader } from './recordReader';

const LF = 10;
const CR = 13;
const QUOTE = 34;
const ZERO = 48;
const LONGEST_LINE = 1 << 20;
/** Fields of a line that are looked at. */
export const MOST_FIELDS = 512;

/** Rows of a file of some format, as they come. */
export interface RowSource {
  push(chunk: Uint8Array): Promise<void>;
  end(): Promise<void>;
  readonly lines: number;
}

/**
 * Lines of delimited UTF-8 text. Plain lines, the common case of large tapes, are read in one pass over their bytes; what
 * that does not understand goes through its fields; from the first quote on, everything goes through a full CSV parser.
 */
export class DelimitedRows implements RowSource {
  lines = 0;
  private readonly delimiter: number;
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);
  private readonly values: Float64Array;
  private readonly plainColumns: number;
  private rest: Uint8Array = new Uint8Array(0);
  private full: Parser | undefined;
  private linesBeforeFull = 0;
  private headerPending: boolean;
  private isFirst = true;
  private view: DataView = new DataView(new ArrayBuffer(0));
  /** The minute that plain lines had last: `2026`, `-01-`, `05`, `T08:`, `30` as numbers, and the instants meant. */
  private year = 0;
  private month = 0;
  private day = 0;
  private hour = 0;
  private minute = 0;
  private midnight = NaN;
  private minuteStart = NaN;

  constructor(
    private readonly reading: Reading,
    private readonly records: RecordReader,
  ) {
    this.delimiter = reading.delimiter.charCodeAt(0);
    this.headerPending = reading.header;
    this.plainColumns = records.plainColumns;
    this.values = new Float64Array(Math.max(1, this.plainColumns));
  }

  /** @throws {Refusal} for a line without end */
  async push(chunk: Uint8Array): Promise<void> {
    if (this.full) return this.pushFull(chunk);
    let bytes = this.rest.length > 0 ? joined(this.rest, chunk) : chunk;
    if (this.isFirst && bytes.length >= 3) {
      this.isFirst = false;
      if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) bytes = bytes.subarray(3);
    }
    const read = this.readLines(bytes);
    this.rest = bytes.slice(read);
    if (this.full) {
      const { rest } = this;
      this.rest = new Uint8Array(0);
      return this.pushFull(rest);
    }
    if (this.rest.length > LONGEST_LINE)
      throw refuse(
        'unreadable-lines',
        `Line ${this.lines + 1} is longer than 1 MB. Is this a text file with a record a line?`,
        { line: this.lines + 1 },
      );
  }

  async end(): Promise<void> {
    if (!this.full && this.rest.length > 0) await this.push(Uint8Array.of(LF));
    if (this.full) await this.endFull();
  }

  /** Reads the whole lines of the bytes; gives how many bytes they were. */
  private readLines(bytes: Uint8Array): number {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    let at = 0;
    while (at < bytes.length) {
      if (this.plainColumns > 0 && !this.headerPending) {
        const next = this.readPlain(bytes, at);
        if (next > 0) {
          at = next;
          continue;
        }
      }
      const next = this.readLine(bytes, at);
      if (next < 0) return at;
      at = next;
    }
    return at;
  }

  /**
   * One plain line: a time in UTC or an epoch time, then decimal numbers above 0, in the order of the columns, and nothing
   * else. Gives where the next line starts; 0 where the line is anything else, and nothing has been taken of it then.
   */
  private readPlain(bytes: Uint8Array, lineStart: number): number {
    const { values, plainColumns, delimiter } = this;
    const length = bytes.length;
    let at = this.readPlainTime(bytes, lineStart);
    if (at === 0) return 0;
    for (let column = 1; column < plainColumns; column++) {
      if (bytes[at++] !== delimiter) return 0;
      // nine digits fit the integer unit, which is the quicker one; longer numbers go the long way
      let mantissa = 0;
      let places = 0;
      const from = at;
      let digit = bytes[at] - ZERO;
      while (digit >= 0 && digit <= 9) {
        mantissa = (Math.imul(mantissa, 10) + digit) | 0;
        digit = bytes[++at] - ZERO;
      }
      if (at === from) return 0;
      if (bytes[at] === 46) {
        const pointAt = at;
        digit = bytes[++at] - ZERO;
        while (digit >= 0 && digit <= 9) {
          mantissa = (Math.imul(mantissa, 10) + digit) | 0;
          digit = bytes[++at] - ZERO;
        }
        places = at - pointAt - 1;
      }
      // 0 has checks of its own
      if (at - from > 10 || (places === 0 && at - from > 9) || mantissa === 0) return 0;
      values[column] = places === 0 ? mantissa : mantissa / TENS[places];
    }
    if (bytes[at] === CR) at++;
    if (at >= length || bytes[at] !== LF) return 0;
    this.lines++;
    this.records.addPlain(values, this.lines);
    return at + 1;
  }

  /** Reads `2026-01-05T08:30:00.015Z` or an epoch time into the first value; gives where it ends, 0 if it is neither. */
  private readPlainTime(bytes: Uint8Array, from: number): number {
    if (from + 20 > bytes.length) return 0;
    if (bytes[from + 4] !== 45) return this.readPlainEpoch(bytes, from);
    // sixteen bytes as four numbers: neighbours are mostly of one minute
    const { view } = this;
    const isNewDate =
      view.getUint32(from) !== this.year ||
      view.getUint32(from + 4) !== this.month ||
      view.getUint16(from + 8) !== this.day;
    if (isNewDate && !this.takePlainDate(bytes, from)) return 0;
    if (isNewDate || view.getUint32(from + 10) !== this.hour || view.getUint16(from + 14) !== this.minute)
      if (!this.takePlainMinute(bytes, from)) return 0;
    const s1 = bytes[from + 17] - ZERO;
    const s0 = bytes[from + 18] - ZERO;
    // a digit below its bound, as an unsigned number: what is no digit is large then
    if (bytes[from + 16] !== 58 || s1 >>> 0 > 5 || s0 >>> 0 > 9) return 0;
    let micros = (s1 * 10 + s0) * 1_000_000;
    let at = from + 19;
    if (bytes[at] === 46) {
      let part = 0;
      const first = ++at;
      for (let digit = bytes[at] - ZERO; digit >= 0 && digit <= 9; digit = bytes[++at] - ZERO)
        part = (Math.imul(part, 10) + digit) | 0;
      const places = at - first;
      if (places === 0 || places > 6) return 0;
      micros += part * TENS[6 - places];
    }
    if (bytes[at] !== 90) return 0;
    this.values[0] = this.minuteStart + micros;
    return at + 1;
  }

  private takePlainMinute(bytes: Uint8Array, from: number): boolean {
    const h1 = bytes[from + 11] - ZERO;
    const h0 = bytes[from + 12] - ZERO;
    const m1 = bytes[from + 14] - ZERO;
    const m0 = bytes[from + 15] - ZERO;
    const hour = h1 * 10 + h0;
    if ((bytes[from + 10] !== 84 && bytes[from + 10] !== 32) || bytes[from + 13] !== 58) return false;
    if (h1 >>> 0 > 2 || h0 >>> 0 > 9 || m1 >>> 0 > 5 || m0 >>> 0 > 9 || hour > 23) return false;
    this.hour = this.view.getUint32(from + 10);
    this.minute = this.view.getUint16(from + 14);
    this.minuteStart = this.midnight + (hour * 60 + m1 * 10 + m0) * 60e6;
    return true;
  }

  private takePlainDate(bytes: Uint8Array, from: number): boolean {
    const text = String.fromCharCode(...bytes.subarray(from, from + 10));
    const millis = /^\d{4}-\d{2}-\d{2}$/.test(text) ? Date.parse(text) : NaN;
    if (Number.isNaN(millis) || new Date(millis).toISOString().slice(0, 10) !== text) return false;
    this.year = this.view.getUint32(from);
    this.month = this.view.getUint32(from + 4);
    this.day = this.view.getUint16(from + 8);
    this.midnight = millis * 1000;
    return true;
  }

  private readPlainEpoch(bytes: Uint8Array, from: number): number {
    let at = from;
    let whole = 0;
    for (let digit = bytes[at] - ZERO; digit >= 0 && digit <= 9; digit = bytes[++at] - ZERO) whole = whole * 10 + digit;
    const length = at - from;
    if (length < 9 || length > 16 || length === 8 || bytes[at] === 46) return 0;
    if (whole < 1e8) return 0;
    this.values[0] = whole * (whole < 1e11 ? 1e6 : whole < 1e14 ? 1000 : 1);
    return at;
  }

  /** One line by its fields. Gives where the next starts; -1 where the line has no end yet, or the full parser takes over. */
  private readLine(bytes: Uint8Array, lineStart: number): number {
    const { starts, ends, delimiter } = this;
    let fields = 0;
    let at = lineStart;
    starts[0] = at;
    for (; at < bytes.length; at++) {
      const byte = bytes[at];
      if (byte === LF) break;
      if (byte === delimiter && fields < MOST_FIELDS - 1) {
        ends[fields] = at;
        starts[++fields] = at + 1;
      } else if (byte === QUOTE) {
        this.startFull();
        return -1;
      }
    }
    if (at === bytes.length) return -1;
    const lineEnd = at > lineStart && bytes[at - 1] === CR ? at - 1 : at;
    ends[fields] = lineEnd;
    this.lines++;
    if (fields === 0 && lineEnd === starts[0]) return at + 1; // an empty line
    if (this.headerPending) this.headerPending = false;
    else
      this.records.readFields({
        bytes,
        starts,
        ends,
        count: fields + 1,
        line: this.lines,
        text: () => new TextDecoder().decode(bytes.subarray(lineStart, lineEnd)),
      });
    return at + 1;
  }

  private startFull(): void {
    this.linesBeforeFull = this.lines;
    this.full = parse({
      delimiter: this.reading.delimiter,
      record_delimiter: ['\r\n', '\n'],
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: true,
      info: true,
      raw: true,
      max_record_size: LONGEST_LINE,
    });
    this.full.on('data', (row: { record: string[]; info: Info; raw: string }) => this.takeRecord(row));
  }

  private async pushFull(chunk: Uint8Array): Promise<void> {
    await this.whileFull((parser, done) => parser.write(Buffer.from(chunk), done));
  }

  private async endFull(): Promise<void> {
    await this.whileFull((parser, done) => {
      parser.on('end', () => done());
      // a last line without its end would be counted as the one before
      parser.end('\n');
    });
  }

  private async whileFull(act: (parser: Parser, done: (error?: Error | null) => void) => void): Promise<void> {
    const parser = this.full!;
    await new Promise<void>((resolve, reject) => {
      parser.once('error', reject);
      act(parser, (error) => (error ? reject(error) : resolve()));
    }).catch((error: Error) => {
      if (error instanceof Refusal) throw error;
      throw refuse(
        'unreadable-lines',
        `After line ${this.lines} the quotes do not close: ${error.message}.`,
        { line: this.lines },
        { cause: error },
      );
    });
  }

  private takeRecord({ record, info, raw }: { record: string[]; info: Info; raw: string }): void {
    this.lines = this.linesBeforeFull + info.lines;
    if (this.headerPending) {
      this.headerPending = false;
      return;
    }
    try {
      readTexts(this.records, record, this.lines, () => raw.replace(/\r?\n$/, ''), this.starts, this.ends);
    } catch (error) {
      this.full!.destroy(error as Error);
    }
  }
}

/** Hands on fields that are texts already. */
export function readTexts(
  records: RecordReader,
  fields: readonly string[],
  line: number,
  text: () => string,
  starts: Int32Array,
  ends: Int32Array,
): void {
  const kept = fields.slice(0, MOST_FIELDS);
  const bytes = new TextEncoder().encode(kept.join('\n'));
  let at = 0;
  kept.forEach((field, index) => {
    starts[index] = at;
    at += Buffer.byteLength(field);
    ends[index] = at++;
  });
  records.readFields({ bytes, starts, ends, count: kept.length, line, text });
}

export function joined(a: Uint8Array, b: Uint8Array): Uint8Array<ArrayBuffer> {
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}
