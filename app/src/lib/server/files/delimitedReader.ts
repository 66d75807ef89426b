import { parse, type Info, type Parser } from 'csv-parse';
import { TimeReader, type Calendar } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { RejectedLine, TapeKind } from '$lib/api/tapes';
import { readNumber } from './numberText';
import { RECORD_COLUMNS } from './recordKinds';

const LF = 10;
const CR = 13;
const QUOTE = 34;
const LONGEST_LINE = 1 << 20;
const MOST_FIELDS = 256;
const DELIMITERS = [',', ';', '\t', '|'];

/** Where the reader puts what it has read. */
export interface RecordSink {
  /** One record; the values stand in the order of `columns` and are overwritten with the next. */
  add(values: Float64Array): void;
}

/** Rejected lines that are told one by one; of the others only the number. */
const TOLD_REJECTIONS = 100;

/**
 * Reads delimited text into records as it comes. Lines without quotes, the common case of large tapes, are read from
 * their bytes; from the first quote on, the rest goes through a full CSV parser. Both end in the same `readFields`.
 */
export class DelimitedReader {
  readonly rejected: RejectedLine[] = [];
  rejectedCount = 0;
  repeatedTimes = 0;
  lines = 0;
  rows = 0;
  /** Names of the columns that the file has, known once the first line is read. */
  columns: string[] = [];
  private readonly timeReader: TimeReader;
  private timesRefused = 0;
  private delimiter = 44;
  /** For each column, which field of a line it is. */
  private fieldOf: number[] = [];
  private values = new Float64Array(0);
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);
  private rest: Uint8Array = new Uint8Array(0);
  private full: Parser | undefined;
  private linesBeforeFull = 0;

  constructor(
    private readonly kind: TapeKind,
    calendar: Calendar,
    private readonly sink: RecordSink,
  ) {
    this.timeReader = new TimeReader(calendar);
  }

  /** @throws {Refusal} for a header without the columns that the kind needs, or a line without end */
  async push(chunk: Uint8Array): Promise<void> {
    if (this.full) return this.pushFull(chunk);
    const bytes = this.rest.length > 0 ? joined(this.rest, chunk) : chunk;
    const read = this.readLines(bytes);
    this.rest = bytes.subarray(read).slice();
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

  /** @throws {Refusal} where the file held no record, or no time */
  async end(): Promise<void> {
    if (!this.full && this.rest.length > 0) await this.push(Uint8Array.of(LF));
    if (this.full) await this.endFull();
    if (this.rows > 0) return;
    if (this.lines === 0)
      throw refuse(
        'empty-file',
        'The file is empty. Drop one with a line for each record, such as 2026-02-02T08:30:00Z,84.20,15.',
      );
    if (this.rejectedCount > 0 && this.timesRefused === this.rejectedCount)
      throw refuse(
        'no-time-column',
        `No line has a time where one should be. ${this.describeRejections()}`,
        this.rejections(),
      );
    if (this.rejectedCount > 0)
      throw refuse('unreadable-lines', `No line could be read. ${this.describeRejections()}`, this.rejections());
    throw refuse('empty-file', 'The file has a header and no records under it.');
  }

  rejections() {
    return { rejected: this.rejected, rejectedCount: this.rejectedCount, line: this.rejected[0]?.line };
  }

  describeRejections(): string {
    return this.rejected
      .slice(0, 3)
      .map(({ line, reason }) => `Line ${line}: ${reason}.`)
      .join(' ');
  }

  /** Reads the whole lines of the bytes; gives how many bytes they were. */
  private readLines(bytes: Uint8Array): number {
    const { starts, ends } = this;
    let lineStart = this.lines === 0 ? afterByteOrderMark(bytes) : 0;
    for (;;) {
      let fields = 0;
      let at = lineStart;
      let byte = -1;
      starts[0] = at;
      for (; at < bytes.length; at++) {
        byte = bytes[at];
        if (byte === LF) break;
        if (byte === this.delimiter && fields < MOST_FIELDS - 1) {
          ends[fields] = at;
          starts[++fields] = at + 1;
        } else if (byte === QUOTE) {
          this.startFull();
          return lineStart;
        }
      }
      if (at === bytes.length) return lineStart;
      ends[fields] = at > lineStart && bytes[at - 1] === CR ? at - 1 : at;
      this.lines++;
      const isEmpty = fields === 0 && ends[0] === starts[0];
      if (!isEmpty) {
        if (this.columns.length > 0) this.readFields(bytes, fields + 1, this.lines);
        else if (this.readFirstLine(bytes, lineStart, ends[fields])) {
          // the delimiter is known only now, so the line is read once more
          this.lines--;
          continue;
        }
      }
      lineStart = at + 1;
    }
  }

  /** Finds the delimiter and the columns. True where the line is a record, not a header. */
  private readFirstLine(bytes: Uint8Array, from: number, to: number): boolean {
    const text = new TextDecoder().decode(bytes.subarray(from, to));
    const counts = DELIMITERS.map((delimiter) => text.split(delimiter).length);
    const delimiter = DELIMITERS[counts.indexOf(Math.max(...counts))];
    this.delimiter = delimiter.charCodeAt(0);
    return this.takeColumns(text.split(delimiter).map((field) => field.trim()));
  }

  private takeColumns(fields: string[]): boolean {
    const rules = RECORD_COLUMNS[this.kind];
    const words = fields.map((field) => field.toLowerCase());
    const named = rules.map((rule) => words.findIndex((word) => rule.words.includes(word)));
    const isHeader = named.some((field) => field >= 0) || !fields.some((field) => /^[\d.+-]/.test(field));
    if (isHeader) {
      rules.forEach(({ name, required, words: known }, index) => {
        if (!required || named[index] >= 0) return;
        const code = name === 'time' ? 'no-time-column' : 'no-price-column';
        throw refuse(
          code,
          `The header has no ${name} column: it names ${fields.join(', ')}. Call one of them ${known.slice(0, 3).join(' or ')}.`,
          { line: this.lines },
        );
      });
    }
    const found = rules
      .map(({ name }, index) => ({ name, field: isHeader ? named[index] : index }))
      .filter(({ field }) => field >= 0 && field < fields.length);
    const missing = rules.find((rule) => rule.required && !found.some(({ name }) => name === rule.name));
    if (missing)
      throw refuse(
        'no-price-column',
        `A line has ${fields.length} ${fields.length === 1 ? 'field' : 'fields'}; ${rules.map((rule) => rule.name).join(', ')} are expected, in this order or named by a header.`,
        { line: this.lines },
      );
    this.columns = found.map(({ name }) => name);
    this.fieldOf = found.map(({ field }) => field);
    this.values = new Float64Array(found.length);
    return !isHeader;
  }

  /** Reads the fields of one line, whose places stand in `starts` and `ends`. */
  private readFields(bytes: Uint8Array, fields: number, line: number): void {
    const { starts, ends, fieldOf, values, columns } = this;
    for (let column = 0; column < fieldOf.length; column++) {
      const field = fieldOf[column];
      let from = field < fields ? starts[field] : 0;
      let to = field < fields ? ends[field] : 0;
      while (from < to && bytes[from] === 32) from++;
      while (from < to && bytes[to - 1] === 32) to--;
      if (column === 0) {
        values[0] = this.timeReader.read(bytes, from, to);
        if (Number.isNaN(values[0])) {
          this.timesRefused++;
          return this.reject(
            line,
            from === to ? 'the time is missing' : `\`${textOf(bytes, from, to)}\` ${this.timeReader.reason}`,
          );
        }
        if (this.timeReader.repeated) this.repeatedTimes++;
        continue;
      }
      const value = readNumber(bytes, from, to);
      values[column] = value;
      if (!Number.isNaN(value)) continue;
      if (from < to) return this.reject(line, `${columns[column]} \`${textOf(bytes, from, to)}\` is not a number`);
      if (RECORD_COLUMNS[this.kind].find(({ name }) => name === columns[column])!.required)
        return this.reject(line, `the ${columns[column]} is missing`);
    }
    this.rows++;
    this.sink.add(values);
  }

  private reject(line: number, reason: string): void {
    this.rejectedCount++;
    if (this.rejected.length < TOLD_REJECTIONS) this.rejected.push({ line, reason });
  }

  private startFull(): void {
    this.linesBeforeFull = this.lines;
    this.full = parse({
      delimiter: this.columns.length > 0 ? String.fromCharCode(this.delimiter) : DELIMITERS,
      record_delimiter: ['\r\n', '\n'],
      relax_column_count: true,
      relax_quotes: true,
      skip_empty_lines: true,
      info: true,
      max_record_size: LONGEST_LINE,
      bom: true,
    });
    this.full.on('data', ({ record, info }: { record: string[]; info: Info }) => this.takeRecord(record, info));
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
      if ('problem' in error) throw error;
      throw refuse(
        'unreadable-lines',
        `After line ${this.lines} the quotes do not close: ${error.message}.`,
        { line: this.lines },
        { cause: error },
      );
    });
  }

  private takeRecord(record: string[], info: Info): void {
    this.lines = this.linesBeforeFull + info.lines;
    try {
      if (this.columns.length === 0 && !this.takeColumns(record.map((field) => field.trim()))) return;
      const bytes = new TextEncoder().encode(record.join('\n'));
      let at = 0;
      record.slice(0, MOST_FIELDS).forEach((field, index) => {
        this.starts[index] = at;
        at += Buffer.byteLength(field);
        this.ends[index] = at++;
      });
      this.readFields(bytes, Math.min(record.length, MOST_FIELDS), this.lines);
    } catch (error) {
      this.full!.destroy(error as Error);
    }
  }
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}

const afterByteOrderMark = (bytes: Uint8Array): number =>
  bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0;

function textOf(bytes: Uint8Array, from: number, to: number): string {
  const text = new TextDecoder().decode(bytes.subarray(from, Math.min(to, from + 40)));
  return to - from > 40 ? `${text}…` : text;
}
