import { FileError } from '../fileError.js';
import { itemFields } from '../formats/jsonRows.js';
import type { FileFormat, ReadingChoices } from './reading.js';
import { SAMPLE_ROWS, type SampleTable } from './sampleTable.js';

/** Where in a JSON file its records are: under which names, and whether by rows or by columns. */
export interface JsonLayout {
  /** Names from the outermost value to what holds the records, with points between; empty where that is the outermost. */
  path: string;
  layout: 'rows' | 'columns';
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
  const found = format === 'ndjson' ? { path: '', layout: 'rows' as const, at: 0 } : layoutOf(text);
  const { path, layout } = { ...found, ...withoutUnset(choices) };
  const whole = { header: true, skip: 0, under: 0, delimiter: ',' as const, path, layout };
  if (layout === 'columns') {
    const columns = columnsIn(text.slice(found.at));
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
  const parts = format === 'ndjson' ? text.split('\n') : splitItems(text.slice(found.at));
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

/**
 * Where the first array is that has records in it, or that is a column beside others; `at` is where what holds the records
 * begins in the text.
 */
function layoutOf(text: string): JsonLayout & { at: number } {
  const stack: { name: string; at: number }[] = [];
  let name = '';
  const tokens = /"(?:[^"\\]|\\.)*"|[[\]{}:,]|[^\s[\]{}:,"]+/g;
  let last = '';
  for (let found = tokens.exec(text); found; found = tokens.exec(text)) {
    const [token] = found;
    if (token === ':') name = last.slice(1, -1);
    else if (token === '{') stack.push({ name, at: found.index });
    else if (token === '}') stack.pop();
    else if (token === '[') {
      const inner = /^\s*(.)/.exec(text.slice(found.index + 1))?.[1] ?? '';
      const names = [...stack.slice(1).map((one) => one.name), ...(stack.length > 0 ? [name] : [])];
      if (inner === '{' || inner === '[') return { path: names.join('.'), layout: 'rows', at: found.index };
      const holder = stack.at(-1);
      if (holder && inner !== ']') return { path: names.slice(0, -1).join('.'), layout: 'columns', at: holder.at };
      if (!holder) return { path: '', layout: 'rows', at: found.index };
      // an empty array holds nothing: go on behind it
    }
    last = token;
  }
  return { path: '', layout: 'rows', at: 0 };
}

/** Columns of an object whose text may be cut off. */
function columnsIn(text: string): [name: string, values: unknown[]][] {
  const columns: [string, unknown[]][] = [];
  for (const [, name, values] of text.matchAll(/"((?:[^"\\]|\\.)*)"\s*:\s*\[([^\][]*)/g)) {
    const whole = values.replace(/,\s*$/, '');
    const list = parsed(`[${whole}]`) ?? parsed(`[${whole.slice(0, whole.lastIndexOf(','))}]`);
    if (Array.isArray(list)) columns.push([JSON.parse(`"${name}"`) as string, list]);
  }
  return columns;
}

/** Texts of the items of a JSON array, by its brackets; enough for a sample. */
function splitItems(text: string): string[] {
  const items: string[] = [];
  let depth = 0;
  let from = -1;
  let isText = false;
  for (let at = 0; at < text.length; at++) {
    const mark = text[at];
    if (isText) {
      if (mark === '\\') at++;
      else if (mark === '"') isText = false;
    } else if (mark === '"') isText = true;
    else if (mark === '{' || mark === '[') {
      if (depth++ === 1) from = at;
    } else if (mark === '}' || mark === ']') {
      if (--depth === 1) items.push(text.slice(from, at + 1));
      if (depth === 0) break;
    }
  }
  return items;
}
