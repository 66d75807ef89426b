import { FileError } from '../fileError.js';
import { joined, MOST_FIELDS, readTexts, type RowSource } from './delimitedRows.js';
import type { LineTaker } from '../records/recordReader.js';

const LONGEST_ITEM = 1 << 20;
const LONGEST_FIELD = 10_000;

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

/** Records of JSON, one a line or as one array; each an object or an array. Counted as lines, from 1. */
export class JsonRows implements RowSource {
  lines = 0;
  private rest: Uint8Array = new Uint8Array(0);
  private readonly starts = new Int32Array(MOST_FIELDS);
  private readonly ends = new Int32Array(MOST_FIELDS);

  constructor(
    private readonly records: LineTaker,
    /** Names of the columns, for objects. */
    private readonly names: readonly string[],
    private readonly isArray: boolean,
  ) {}

  async push(chunk: Uint8Array): Promise<void> {
    const bytes = this.rest.length > 0 ? joined(this.rest, chunk) : chunk;
    const read = this.isArray ? this.readItems(bytes) : this.readLines(bytes);
    this.rest = bytes.slice(read);
    if (this.rest.length > LONGEST_ITEM)
      throw new FileError('unreadable-lines', `Record ${this.lines + 1} is longer than 1 MB.`, {
        line: this.lines + 1,
      });
  }

  async end(): Promise<void> {
    if (!this.isArray && this.rest.length > 0) await this.push(Uint8Array.of(10));
    else if (this.isArray && !/^[\s,\]]*$/.test(new TextDecoder().decode(this.rest)))
      throw new FileError('broken-body', `The JSON breaks off within record ${this.lines + 1}.`, {
        line: this.lines + 1,
      });
  }

  private readLines(bytes: Uint8Array): number {
    let from = 0;
    for (let at = bytes.indexOf(10, from); at >= 0; at = bytes.indexOf(10, from)) {
      this.take(bytes.subarray(from, at));
      from = at + 1;
    }
    return from;
  }

  /** Items of the outermost array: where brackets are all closed again, outside of texts. */
  private readItems(bytes: Uint8Array): number {
    let depth = 0;
    let isText = false;
    let itemFrom = -1;
    let read = 0;
    for (let at = 0; at < bytes.length; at++) {
      const byte = bytes[at];
      if (isText) {
        if (byte === 92) at++;
        else if (byte === 34) isText = false;
        continue;
      }
      if (byte === 34) isText = true;
      else if (byte === 123 || byte === 91) {
        // the bracket that opens the whole array belongs to no item
        if (depth === 0 && byte === 91 && this.lines === 0 && !this.isOpened) {
          this.isOpened = true;
          read = at + 1;
          continue;
        }
        if (depth++ === 0) itemFrom = at;
      } else if (byte === 125 || byte === 93) {
        if (depth === 0) continue;
        if (--depth > 0) continue;
        this.take(bytes.subarray(itemFrom, at + 1));
        read = at + 1;
      }
    }
    return read;
  }
  private isOpened = false;

  private take(bytes: Uint8Array): void {
    const text = new TextDecoder().decode(bytes).trim();
    this.lines++;
    if (text === '') return;
    let fields: string[];
    try {
      const item: unknown = JSON.parse(text);
      fields = typeof item === 'object' && item !== null ? itemFields(item, this.names) : [text];
    } catch (error) {
      // very deep JSON is too much for the engine's own reader, and its writer
      if (!(error instanceof SyntaxError || error instanceof RangeError)) throw error;
      fields = [text]; // told as a line whose time cannot be read, with the text itself
    }
    readTexts(this.records, fields, this.lines, () => text, this.starts, this.ends);
  }
}
