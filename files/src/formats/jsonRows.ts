import { TokenizerError } from '@streamparser/json';
import { FileError } from '../fileError.js';
import { joined, MOST_FIELDS, readTexts, type RowSource } from './delimitedRows.js';
import { JsonItems } from './jsonItems.js';
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

  /** A record as it stands. One that is no JSON is told as a line whose time cannot be read. */
  takeText(text: string): void {
    try {
      this.take(JSON.parse(text), text);
    } catch (error) {
      // very deep JSON is too much for the engine's own reader, and its writer
      if (!(error instanceof SyntaxError || error instanceof RangeError)) throw error;
      this.hand([text], text);
    }
  }

  take(item: unknown, text: string): void {
    const isRecord = typeof item === 'object' && item !== null;
    this.hand(isRecord ? itemFields(item, this.names) : [text], text);
  }

  private hand(fields: readonly string[], text: string): void {
    this.lines++;
    readTexts(this.records, fields, this.lines, () => text, this.starts, this.ends);
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
    if (text === '') this.taker.lines++;
    else this.taker.takeText(text);
  }
}

/** Columns are held whole until the last of them is there. */
export const MOST_COLUMN_BYTES = 64 << 20;

/** Records within one value of JSON: the items of an array, or columns beside each other. */
export class JsonValue implements RowSource {
  private readonly taker: ItemTaker;
  private readonly items: JsonItems;
  private readonly columns = new Map<string, readonly unknown[]>();
  private columnBytes = 0;
  private isHeaderPending: boolean;
  private readonly mostBytes: number;

  /** @param names  of the columns */
  constructor(
    records: LineTaker,
    private readonly names: readonly string[],
    { path, layout, header }: Reading,
  ) {
    this.taker = new ItemTaker(records, names);
    const isByColumns = layout === 'columns';
    this.isHeaderPending = header && !isByColumns;
    this.mostBytes = isByColumns ? MOST_COLUMN_BYTES : LONGEST_ITEM;
    this.items = new JsonItems(path, (name, text) => (isByColumns ? this.takeColumn(name, text) : this.takeItem(text)));
  }

  get lines(): number {
    return this.taker.lines;
  }

  async push(chunk: Uint8Array): Promise<void> {
    for (let from = 0; from < chunk.length && !this.items.isOver; from += PARSED_AT_ONCE) {
      try {
        this.items.push(chunk.subarray(from, from + PARSED_AT_ONCE));
      } catch (error) {
        throw error instanceof TokenizerError ? this.damaged(error) : error;
      }
      if (this.columnBytes + this.items.pendingBytes > this.mostBytes) throw this.tooLong();
    }
  }

  async end(): Promise<void> {
    if (!this.items.isOver)
      throw new FileError('broken-body', `The JSON breaks off within record ${this.lines + 1}.`, {
        line: this.lines + 1,
      });
    if (this.columns.size === 0) return;
    const columns = this.names.map((name) => this.columns.get(name) ?? []);
    const rows = Math.max(...columns.map(({ length }) => length));
    for (let row = 0; row < rows; row++) {
      const cells = columns.map((column) => column[row]);
      this.taker.take(cells, JSON.stringify(cells));
    }
  }

  private takeItem(text: string): void {
    // rows without names may have them as their first
    const isNames = this.isHeaderPending && text.startsWith('[');
    this.isHeaderPending = false;
    if (isNames) this.taker.lines++;
    else this.taker.takeText(text);
  }

  private takeColumn(name: string, text: string): void {
    if (!this.names.includes(name) || !text.startsWith('[')) return;
    this.columnBytes += text.length;
    try {
      this.columns.set(name, JSON.parse(text) as unknown[]);
    } catch (error) {
      if (!(error instanceof SyntaxError || error instanceof RangeError)) throw error;
      throw this.damaged(error);
    }
  }

  private tooLong(): FileError {
    if (this.columnBytes === 0 && this.mostBytes === LONGEST_ITEM) return tooLong(this.lines + 1);
    return new FileError('too-large', 'JSON by columns is read up to 64 MB. Write larger files with a record a line.');
  }

  private damaged(cause: Error): FileError {
    const line = this.lines + 1;
    return new FileError('broken-body', `The JSON is damaged within record ${line}: ${cause.message}.`, {
      line,
      cause,
    });
  }
}
