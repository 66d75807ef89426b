import { Tokenizer, TokenizerError, TokenType } from '@streamparser/json';
import { FileError } from '../fileError.js';
import { JsonItems, pointerOf } from '../formats/jsonItems.js';
import { itemFields } from '../formats/jsonRows.js';
import type { FileFormat, Reading, ReadingChoices } from './reading.js';
import { SAMPLE_ROWS, type SampleTable } from './sampleTable.js';

/** Where in a JSON file its records are: under which names, and whether by rows or by columns. */
export interface JsonLayout {
  /** A JSON Pointer to what holds the records; empty where that is the outermost value. */
  path: string;
  layout: Reading['layout'];
}

/** Whether JSON that begins with a brace is one value or a record a line. */
export function jsonFormatOf(text: string): FileFormat {
  const [first = '', second = ''] = text.split('\n').filter((line) => line.trim() !== '');
  const value = parsed(first.trim());
  if (value === undefined) return 'json'; // one value over several lines, or a line that is cut off
  const isNested = Object.values(value).some((part) => typeof part === 'object' && part !== null);
  return second.trim().startsWith('{') || !isNested ? 'ndjson' : 'json';
}

/** The records of the beginning of a JSON file as a table. */
export function jsonTable(
  text: string,
  format: 'json' | 'ndjson',
  choices: Pick<ReadingChoices, 'path' | 'layout'>,
): SampleTable & JsonLayout {
  const found: JsonLayout = format === 'ndjson' ? { path: '', layout: 'rows' } : layoutOf(text);
  const { path, layout } = { ...found, ...withoutUnset(choices) };
  const whole = { header: true, skip: 0, under: 0, delimiter: ',' as const, path, layout };
  if (layout === 'columns') {
    const columns = columnsIn(text, path);
    const names = columns.map(([name]) => name);
    const count = Math.min(SAMPLE_ROWS, ...columns.map(([, values]) => values.length));
    if (names.length === 0 || !Number.isFinite(count)) throw noRecords();
    const rows = Array.from({ length: count }, (_, row) =>
      itemFields(
        columns.map(([, values]) => values[row]),
        names,
      ),
    );
    return { ...whole, names, rows };
  }
  const parts = format === 'ndjson' ? text.split('\n') : itemsIn(text, path).map(([, item]) => item);
  const items = parts
    .slice(0, SAMPLE_ROWS)
    .map(parsed)
    .filter((item) => item !== undefined);
  const [first] = items;
  if (!first) throw noRecords();
  const isList = Array.isArray(first);
  // a first row of names is the header of rows without names
  const header = !isList || first.every((cell) => typeof cell === 'string' && !/\d/.test(cell));
  const names = !isList
    ? namesOf(items)
    : header
      ? (first as string[])
      : first.map((_, index) => `column ${index + 1}`);
  try {
    const rows = (isList && header ? items.slice(1) : items).map((item) => itemFields(item, names));
    return { ...whole, header, names, rows };
  } catch (cause) {
    if (!(cause instanceof RangeError)) throw cause;
    throw new FileError('broken-body', 'The JSON is nested too deeply to be records.', { cause });
  }
}

const noRecords = () =>
  new FileError(
    'unreadable-lines',
    'The JSON holds no records: an array of objects or arrays, or one of them a line, is expected.',
    { line: 1 },
  );

const withoutUnset = (choices: Partial<JsonLayout>): Partial<JsonLayout> =>
  Object.fromEntries(
    Object.entries({ path: choices.path, layout: choices.layout }).filter(([, value]) => value !== undefined),
  );

/** Names of all records, in the order in which they come up. */
const namesOf = (items: readonly object[]): string[] => [...new Set(items.flatMap((item) => Object.keys(item)))];

/** An object or array that a text is; undefined where it is none, as where a sample cuts it off. */
function parsed(text: string): object | undefined {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null ? value : undefined;
  } catch (error) {
    if (!(error instanceof SyntaxError || error instanceof RangeError)) throw error;
    return undefined;
  }
}

/** An array of a JSON text: what holds it, what stands in it, and how many values of that the text has. */
interface FoundArray {
  /** Pointer to the object that it is a value of; undefined where it is in an array, or outermost. */
  holder: string | undefined;
  pointer: string;
  holdsRecords: boolean;
  length: number;
}

/** The longest of what may be records: an array of objects or arrays, or two arrays of values and more beside each other. */
function layoutOf(text: string): JsonLayout {
  const arrays = arraysIn(text);
  const beside = (holder: string) => arrays.filter((one) => one.holder === holder && !one.holdsRecords);
  const candidates = arrays.flatMap((one): (JsonLayout & { length: number })[] => {
    if (one.holdsRecords) return [{ path: one.pointer, layout: 'rows', length: one.length }];
    const columns = one.holder === undefined ? [] : beside(one.holder);
    if (columns[0] !== one || columns.length < 2) return [];
    return [{ path: one.holder!, layout: 'columns', length: Math.max(...columns.map(({ length }) => length)) }];
  });
  const [best] = candidates.sort((a, b) => b.length - a.length);
  if (best) return { path: best.path, layout: best.layout };
  // one column alone, as where the text is cut off in it
  const [only] = arrays;
  return only?.holder === undefined
    ? { path: only?.pointer ?? '', layout: 'rows' }
    : { path: only.holder, layout: 'columns' };
}

/** Arrays outside of records, in the order in which they begin. */
function arraysIn(text: string): FoundArray[] {
  const found: FoundArray[] = [];
  const way: { isObject: boolean; name: string; array: FoundArray | undefined }[] = [];
  let expectsName = false;
  const tokenizer = new Tokenizer();
  tokenizer.onError = () => undefined; // whoever reads the file tells what is wrong with it
  tokenizer.onEnd = () => undefined;
  tokenizer.onToken = ({ token, value }) => {
    const top = way.at(-1);
    const isOpening = token === TokenType.LEFT_BRACE || token === TokenType.LEFT_BRACKET;
    if (token === TokenType.RIGHT_BRACE || token === TokenType.RIGHT_BRACKET) way.pop();
    else if (token === TokenType.STRING && expectsName) top!.name = String(value);
    else if (token !== TokenType.COMMA && token !== TokenType.COLON && top?.array) {
      top.array.length++;
      if (isOpening) top.array.holdsRecords = true;
    }
    if (isOpening) {
      const isInRecord = way.some(({ array }) => array !== undefined);
      const names = way.flatMap(({ isObject, name }) => (isObject ? [name] : []));
      const array =
        token === TokenType.LEFT_BRACKET && !isInRecord
          ? {
              holder: top?.isObject ? pointerOf(names.slice(0, -1)) : undefined,
              pointer: pointerOf(names),
              holdsRecords: false,
              length: 0,
            }
          : undefined;
      if (array) found.push(array);
      way.push({ isObject: token === TokenType.LEFT_BRACE, name: '', array });
    }
    expectsName = (way.at(-1)?.isObject ?? false) && (token === TokenType.LEFT_BRACE || token === TokenType.COMMA);
  };
  tokenizer.write(text);
  return found.filter(({ length }) => length > 0);
}

/** Values directly within what a pointer points to, in a text that may be cut off: the last one too, as far as it goes. */
function itemsIn(text: string, path: string): [name: string, text: string][] {
  const items: [string, string][] = [];
  const scanner = new JsonItems(path, (name, item) => items.push([name, item]));
  try {
    scanner.push(new TextEncoder().encode(text));
  } catch (error) {
    if (!(error instanceof TokenizerError)) throw error;
    return items; // damaged further on
  }
  const { pending } = scanner;
  if (pending) items.push([pending.name, new TextDecoder().decode(pending.bytes)]);
  return items;
}

/** Columns of numbers and words, the last of which may be cut off. */
function columnsIn(text: string, path: string): [name: string, values: unknown[]][] {
  return itemsIn(text, path).flatMap(([name, item]): [string, unknown[]][] => {
    const values = parsed(item) ?? parsed(`${item.slice(0, item.lastIndexOf(','))}]`);
    return Array.isArray(values) ? [[name, values]] : [];
  });
}
