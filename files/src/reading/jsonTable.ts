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
    const count = columns.reduce((least, [, values]) => Math.min(least, values.length), SAMPLE_ROWS);
    if (names.length === 0) throw noRecords();
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

/** An object or array of a JSON text. */
interface Container {
  within: Container | undefined;
  isObject: boolean;
  /** The names that lead to it from the outermost value on. */
  way: readonly string[];
  /** The name that came last in it. */
  name: string;
  /** Values that stand in it, and whether one of them is an object or array. */
  length: number;
  holdsContainers: boolean;
}

/** Records are not looked for deeper within. */
const DEEPEST_RECORDS = 64;

/** The longest of what may be records: an array of objects or arrays, or two arrays of values and more beside each other. */
function layoutOf(text: string): JsonLayout {
  const arrays = arraysIn(text);
  const columns = new Map<Container, Container[]>();
  for (const one of arrays) {
    if (one.holdsContainers || !one.within) continue;
    const beside = columns.get(one.within);
    if (beside) beside.push(one);
    else columns.set(one.within, [one]);
  }
  const lengths = [
    ...arrays
      .filter(({ holdsContainers }) => holdsContainers)
      .map((array) => ({ of: array, layout: 'rows' as const, length: array.length })),
    ...[...columns]
      .filter(([, beside]) => beside.length > 1)
      .map(([of, beside]) => ({ of, layout: 'columns' as const, length: longest(beside) })),
  ];
  const [best] = lengths.sort((a, b) => b.length - a.length);
  if (best) return { path: pointerOf(best.of.way), layout: best.layout };
  // one column alone, as where the text is cut off in it
  const [only] = arrays;
  return only?.within
    ? { path: pointerOf(only.within.way), layout: 'columns' }
    : { path: pointerOf(only?.way ?? []), layout: 'rows' };
}

const longest = (arrays: readonly Container[]): number =>
  arrays.reduce((most, { length }) => Math.max(most, length), 0);

/** Arrays with values in them that are in no other array, in the order in which they begin. */
function arraysIn(text: string): Container[] {
  const found: Container[] = [];
  const open: Container[] = [];
  let arraysOpen = 0;
  let deeper = 0; // containers that are open beyond the deepest one that is looked into
  let expectsName = false;
  const begin = (isObject: boolean) => {
    const within = open.at(-1);
    const way = within?.isObject ? [...within.way, within.name] : (within?.way ?? []);
    const container = { within, isObject, way, name: '', length: 0, holdsContainers: false };
    if (!isObject && arraysOpen++ === 0) found.push(container);
    open.push(container);
  };
  const tokenizer = new Tokenizer();
  tokenizer.onError = () => undefined; // whoever reads the file tells what is wrong with it
  tokenizer.onEnd = () => undefined;
  tokenizer.onToken = ({ token, value }) => {
    const isOpening = token === TokenType.LEFT_BRACE || token === TokenType.LEFT_BRACKET;
    const isClosing = token === TokenType.RIGHT_BRACE || token === TokenType.RIGHT_BRACKET;
    const top = open.at(-1);
    if (deeper > 0) deeper += isOpening ? 1 : isClosing ? -1 : 0;
    else if (isClosing) {
      if (!open.pop()?.isObject) arraysOpen--;
    } else if (top && expectsName && token === TokenType.STRING) top.name = String(value);
    else if (top && token !== TokenType.COMMA && token !== TokenType.COLON) {
      top.length++;
      top.holdsContainers ||= isOpening;
    }
    if (isOpening && deeper === 0)
      if (open.length < DEEPEST_RECORDS) begin(token === TokenType.LEFT_BRACE);
      else deeper = 1;
    expectsName = open.at(-1)?.isObject === true && (token === TokenType.LEFT_BRACE || token === TokenType.COMMA);
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
