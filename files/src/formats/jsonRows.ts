import { JSONParser, TokenizerError, TokenParserError } from '@streamparser/json';
import { FileError } from '../fileError.js';
import { joined, MOST_FIELDS, readTexts, type RowSource } from './delimitedRows.js';
import type { Reading } from '../reading/reading.js';
import type { LineTaker } from '../records/recordReader.js';

const LONGEST_ITEM = 1 << 20;
const LONGEST_FIELD = 10_000;
/** Bytes that are parsed between two looks at how long the record under way is. */
const PARSED_AT_ONCE = 1 << 16;
const LF = 10;

/** A value of JSON as the text of a field. */
export function fieldText(value: unknown): string {
  if (value === null || value === undefined) return '';
  return typeof value === 'object'
    ? JSON.stringify(value).slice(0, LONGEST_FIELD)
    : String(value as string | number | boolean);
}

/** What an object of a file has under a name: not what every object has, such as `constructor`. */
export const ownField = (object: object, name: string): unknown =>
  Object.hasOwn(object, name) ? (object as Record<string, unknown>)[name] : undefined;

/** The fields of a record of JSON: an array's in their order, an object's in the order of the names. */
export function itemFields(item: object, names: readonly string[]): string[] {
  if (Array.isArray(item)) return item.map(fieldText);
  return names.map((name) => fieldText(ownField(item, name)));
}

/** Hands records of JSON on, counted as lines, from 1. */
class ItemTaker {
  lines = 0;
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);

  constructor(
    private readonly records: LineTaker,
    private readonly names: readonly string[],
  ) {}

  /** @param text  of a record that is no JSON: told as a line whose time cannot be read */
  take(item: unknown, text = ''): void {
    this.lines++;
    const isRecord = typeof item === 'object' && item !== null;
    const fields = isRecord ? itemFields(item, this.names) : [text || fieldText(item)];
    const written = () => (text || JSON.stringify(item)).slice(0, LONGEST_FIELD);
    readTexts(this.records, fields, this.lines, written, this.starts, this.ends);
  }
}

const tooLong = (line: number) => new FileError('unreadable-lines', `Record ${line} is longer than 1 MB.`, { line });

/** Records of JSON, one a line; each an object or an array. */
export class JsonLines implements RowSource {
  private readonly taker: ItemTaker;
  private rest: Uint8Array = new Uint8Array(0);

  /** @param names  of the columns, for objects */
  constructor(records: LineTaker, names: readonly string[]) {
    this.taker = new ItemTaker(records, names);
  }

  get lines(): number {
    return this.taker.lines;
  }

  async push(chunk: Uint8Array): Promise<void> {
    let from = 0;
    for (let at = chunk.indexOf(LF); at >= 0; at = chunk.indexOf(LF, from)) {
      this.take(chunk.subarray(from, at));
      from = at + 1;
    }
    const rest = chunk.subarray(from);
    this.rest = this.rest.length > 0 ? joined(this.rest, rest) : rest.slice();
    if (this.rest.length > LONGEST_ITEM) throw tooLong(this.lines + 1);
  }

  async end(): Promise<void> {
    if (this.rest.length > 0) await this.push(Uint8Array.of(LF));
  }

  private take(bytes: Uint8Array): void {
    const text = new TextDecoder().decode(this.rest.length > 0 ? joined(this.rest, bytes) : bytes).trim();
    this.rest = new Uint8Array(0);
    if (text === '') return void this.taker.lines++;
    try {
      this.taker.take(JSON.parse(text), text);
    } catch (error) {
      // very deep JSON is too much for the engine's own reader, and its writer
      if (!(error instanceof SyntaxError || error instanceof RangeError)) throw error;
      this.taker.take(undefined, text);
    }
  }
}

/** Records within one value of JSON, at a path: the items of an array, or columns of one length beside each other. */
export class JsonValue implements RowSource {
  private readonly taker: ItemTaker;
  private readonly parser: JSONParser;
  private readonly columns = new Map<string, unknown[]>();
  private failure: Error | undefined;
  private bytesSinceItem = 0;
  private isHeaderPending: boolean;
  private isOver = false;
  private readonly mostBytes: number;

  /** @param names  of the columns, for objects */
  constructor(
    records: LineTaker,
    private readonly names: readonly string[],
    { path, layout, header }: Reading,
  ) {
    this.taker = new ItemTaker(records, names);
    const isByColumns = layout === 'columns';
    const holder = path === '' ? '$' : `$.${path}`;
    this.isHeaderPending = header && !isByColumns;
    this.parser = new JSONParser({ paths: [`${holder}.*`], keepStack: false });
    this.parser.onValue = ({ key, value }) => {
      this.bytesSinceItem = 0;
      if (!isByColumns) return this.takeItem(value);
      if (Array.isArray(value)) this.columns.set(String(key), value);
    };
    this.parser.onError = (error) => (this.failure ??= error);
    this.parser.onEnd = () => (this.isOver = true);
    this.mostBytes = isByColumns ? MOST_COLUMN_BYTES : LONGEST_ITEM;
  }
  get lines(): number {
    return this.taker.lines;
  }

  async push(chunk: Uint8Array): Promise<void> {
    for (let from = 0; from < chunk.length && !this.isOver; from += PARSED_AT_ONCE) {
      const part = chunk.subarray(from, from + PARSED_AT_ONCE);
      this.bytesSinceItem += part.length;
      this.parser.write(part);
      if (this.failure) throw this.told(this.failure);
      if (this.bytesSinceItem > this.mostBytes + PARSED_AT_ONCE) throw tooLong(this.lines + 1);
    }
  }

  async end(): Promise<void> {
    if (!this.isOver)
      throw new FileError('broken-body', `The JSON breaks off within record ${this.lines + 1}.`, {
        line: this.lines + 1,
      });
    const columns = this.names.map((name) => this.columns.get(name) ?? []);
    const rows = Math.max(0, ...columns.map(({ length }) => length));
    if (this.columns.size > 0)
      for (let row = 0; row < rows; row++) this.taker.take(columns.map((column) => column[row]));
  }

  private takeItem(item: unknown): void {
    // rows without names may have them as their first
    if (this.isHeaderPending && Array.isArray(item)) {
      this.isHeaderPending = false;
      this.taker.lines++;
      return;
    }
    this.isHeaderPending = false;
    try {
      this.taker.take(item);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.taker.take(undefined, 'nested too deeply');
    }
  }

  private told(error: Error): Error {
    if (!(error instanceof TokenizerError || error instanceof TokenParserError)) return error;
    const line = this.lines + 1;
    return new FileError('broken-body', `The JSON is damaged within record ${line}: ${error.message}.`, {
      line,
      cause: error,
    });
  }
}

/** Columns are held whole until the last of them is there. */
const MOST_COLUMN_BYTES = 64 << 20;
