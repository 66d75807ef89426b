import { parse, type Info, type Parser } from 'csv-parse';
import { FileError } from '../fileError.js';
import type { Reading } from '../reading/reading.js';
import { PlainLines } from './plainLines.js';
import type { LineTaker } from '../records/recordReader.js';

const LF = 10;
const CR = 13;
const QUOTE = 34;
const SPACE = 32;
const TAB = 9;
const LONGEST_LINE = 1 << 20;
/** So few bytes are read line by line: the engine keeps short arrays elsewhere, and code that meets both is slow for all. */
const FEW_BYTES = 512;
/** Fields of a line that are looked at. */
export const MOST_FIELDS = 512;

/** Rows of a file of some format, as they come. */
export interface RowSource {
  /** Once it is through, nothing of the chunk's memory is held on to. */
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
  private readonly plain: PlainLines | undefined;
  private rest: Uint8Array = new Uint8Array(0);
  private full: Parser | undefined;
  /** Rejects what the parser is asked at present. */
  private failFull: (error: Error) => void = () => undefined;
  private linesBeforeFull = 0;
  private readonly isSpaced: boolean;
  private headerPending: boolean;
  /** Lines before the header or the first record that are still to be passed over. */
  private skipPending: number;
  private isFirst = true;

  constructor(
    private readonly reading: Reading,
    private readonly records: LineTaker,
  ) {
    this.delimiter = reading.delimiter.charCodeAt(0);
    this.isSpaced = reading.delimiter === ' ';
    this.headerPending = reading.header;
    this.skipPending = reading.skip;
    const { plainColumns } = records;
    this.plain = plainColumns > 0 ? new PlainLines(this.delimiter, plainColumns) : undefined;
  }

  /** @throws {FileError} for a line without end */
  async push(chunk: Uint8Array): Promise<void> {
    if (this.full) return this.pushFull(chunk);
    if (this.rest.length === 0) return this.pushPlain(chunk);
    // only the line that was cut in two is put together
    const lineEnd = chunk.indexOf(LF) + 1;
    if (lineEnd === 0) return this.pushPlain(joined(this.rest, chunk));
    await this.pushPlain(joined(this.rest, chunk.subarray(0, lineEnd)));
    await this.push(chunk.subarray(lineEnd));
  }

  async end(): Promise<void> {
    if (!this.full && this.rest.length > 0) await this.push(Uint8Array.of(LF));
    if (this.full) await this.endFull();
  }

  private async pushPlain(chunk: Uint8Array): Promise<void> {
    let bytes = chunk;
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
      throw new FileError(
        'unreadable-lines',
        `Line ${this.lines + 1} is longer than 1 MB. Is this a text file with a record a line?`,
        { line: this.lines + 1 },
      );
  }

  /** Reads the whole lines of the bytes; gives how many bytes they were. */
  private readLines(bytes: Uint8Array): number {
    const { plain } = this;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    let at = 0;
    while (at < bytes.length) {
      if (plain && !this.headerPending && this.skipPending === 0 && bytes.length - at > FEW_BYTES) {
        at = plain.read(bytes, view, at);
        if (plain.rows > 0) {
          this.records.addPlain(plain.columns, plain.rows, this.lines + 1);
          this.lines += plain.rows;
          continue;
        }
      }
      const next = this.readLine(bytes, at);
      if (next < 0) return at;
      at = next;
    }
    return at;
  }

  /** One line by its fields. Gives where the next starts; -1 where the line has no end yet, or the full parser takes over. */
  private readLine(bytes: Uint8Array, lineStart: number): number {
    const { starts, ends, delimiter } = this;
    if (this.skipPending > 0) {
      const lineEnd = bytes.indexOf(LF, lineStart);
      if (lineEnd < 0) return -1;
      this.skipPending--;
      this.lines++;
      return lineEnd + 1;
    }
    let fields = 0;
    let at = lineStart;
    if (this.isSpaced) while (bytes[at] === SPACE) at++;
    starts[0] = at;
    for (; at < bytes.length; at++) {
      const byte = bytes[at];
      if (byte === LF) break;
      if ((byte === delimiter || (this.isSpaced && byte === TAB)) && fields < MOST_FIELDS - 1) {
        ends[fields] = at;
        // spaces that align columns divide once
        if (this.isSpaced) while (bytes[at + 1] === SPACE || bytes[at + 1] === TAB) at++;
        starts[++fields] = at + 1;
      } else if (byte === QUOTE) {
        this.startFull();
        return -1;
      }
    }
    if (at === bytes.length) return -1;
    const lineEnd = at > lineStart && bytes[at - 1] === CR ? at - 1 : at;
    ends[fields] = lineEnd;
    if (this.isSpaced && fields > 0 && starts[fields] >= lineEnd) fields--; // spaces at the end of the line
    this.lines++;
    if (fields === 0 && lineEnd === starts[0]) return at + 1; // an empty line
    if (this.headerPending) {
      this.headerPending = false;
      this.skipPending = this.reading.under;
    } else
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
    this.full.on('error', (error) => this.failFull(error));
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
      this.failFull = reject;
      act(parser, (error) => (error ? reject(error) : resolve()));
    }).catch((error: Error) => {
      if (error instanceof FileError) throw error;
      throw new FileError('unreadable-lines', `After line ${this.lines} the quotes do not close: ${error.message}.`, {
        line: this.lines,
        cause: error,
      });
    });
  }

  private takeRecord({ record, info, raw }: { record: string[]; info: Info; raw: string }): void {
    this.lines = this.linesBeforeFull + info.lines;
    if (this.headerPending) {
      this.headerPending = false;
      this.skipPending = this.reading.under;
      return;
    }
    if (this.skipPending > 0) return void this.skipPending--;
    const cells = this.isSpaced ? record.filter((cell) => cell !== '') : record;
    try {
      readTexts(this.records, cells, this.lines, () => raw.replace(/\r?\n$/, ''), this.starts, this.ends);
    } catch (error) {
      this.full!.destroy(error as Error);
    }
  }
}

/** Hands on fields that are texts already. */
export function readTexts(
  records: LineTaker,
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
