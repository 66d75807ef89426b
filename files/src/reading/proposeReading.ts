import { CsvError, parse } from 'csv-parse/sync';
import { FileError } from '../fileError.js';
import type { FileLimits } from '../fileLimits.js';
import {
  REQUIRED,
  ROLES,
  type ColumnReading,
  type FileFormat,
  type Reading,
  type ReadingChoices,
  type TapeKind,
} from './reading.js';
import { openColumnar } from '../formats/columnarRows.js';
import { itemFields } from '../formats/jsonRows.js';
import { MISSING, readStyledNumber } from '../records/numberText.js';

/** Header words that mean a role, in lower case without marks between. */
const WORDS = {
  time: ['time', 'timestamp', 'datetime', 'instant', 'ts', 'tradetime', 'start', 'zeit', 'tidspunkt'],
  date: ['date', 'day', 'tradingday', 'datum', 'dato'],
  clock: ['clock', 'timeofday', 'uhrzeit'],
  price: ['price', 'last', 'px', 'tradeprice', 'preis', 'pris'],
  size: ['size', 'quantity', 'qty', 'amount', 'units', 'shares', 'lots', 'menge'],
  side: ['side', 'direction', 'aggressor'],
  bid: ['bid', 'bidprice'],
  ask: ['ask', 'askprice', 'offer'],
  bidSize: ['bidsize', 'bidqty', 'bidvolume'],
  askSize: ['asksize', 'askqty', 'askvolume'],
  open: ['open', 'first'],
  high: ['high', 'max'],
  low: ['low', 'min'],
  close: ['close', 'settle', 'schluss'],
  volume: ['volume', 'vol', 'turnoverunits'],
  value: ['value', 'turnover'],
  trades: ['trades', 'count', 'ticks', 'numberoftrades'],
  instrument: ['instrument', 'symbol', 'ticker', 'name', 'isin', 'security', 'code'],
} as const satisfies Record<string, readonly string[]>;

const ROLE_OF_WORD: ReadonlyMap<string, string> = new Map(
  Object.entries(WORDS).flatMap(([role, words]) => words.map((word) => [word, role] as const)),
);

/** What was found out about a file from its beginning. */
export interface Proposal {
  reading: Reading;
  /** Names of the columns as the file gives them, or `column 1` and on. */
  names: string[];
  /** The first rows as they stand, without the header. */
  rows: string[][];
  /** Choices that the sample leaves open. */
  open: 'dateOrder'[];
}

/** Rows that a proposal looks at. */
const SAMPLE_ROWS = 400;

/**
 * Proposes how a file is read, from its first bytes; what was chosen already is kept.
 * @throws {FileError} for an empty file, and one that cannot be read as what it is chosen to be
 */
export async function proposeReading(
  sample: Uint8Array,
  choices: ReadingChoices,
  limits: FileLimits,
): Promise<Proposal> {
  if (sample.length === 0)
    throw new FileError(
      'empty-file',
      'The file is empty. Drop one with a line for each record, such as 2026-02-02T08:30:00Z,84.20,15.',
    );
  const format = choices.format ?? formatOf(sample);
  const encoding = choices.encoding ?? encodingOf(sample);
  const table = await tableOf(sample, format, encoding, choices, limits);
  if (table.names.length > limits.columns)
    throw new FileError(
      'too-many-columns',
      `The file has ${table.names.length.toLocaleString('en')} columns; at most ${limits.columns} can be read. Is it divided by the right mark?`,
    );
  const numeric = table.rows.flat().filter((cell) => /\d/.test(cell));
  const decimal = choices.decimal ?? decimalOf(numeric);
  const types = table.names.map((_, index) =>
    typeOf(
      table.rows.map((row) => row[index] ?? ''),
      decimal,
    ),
  );
  const { order, isOpen } = dateOrderOf(table.rows.flat());
  const kind = choices.kind ?? kindOf(table, types, choices.columns);
  const columns = choices.columns ? named(choices.columns, table.names) : rolesOf(kind, table, types);
  const reading: Reading = {
    format,
    encoding,
    delimiter: table.delimiter,
    header: table.header,
    skip: table.skip,
    decimal,
    dateOrder: choices.dateOrder ?? order,
    kind,
    columns,
  };
  return { reading, names: table.names, rows: table.rows, open: isOpen && !choices.dateOrder ? ['dateOrder'] : [] };
}

/**
 * Whether a reading can make records. @throws {FileError} for one without a time or without the columns that its kind needs
 */
export function requireUsable({ kind, columns }: Reading, names: readonly string[]): void {
  const has = (role: string) => columns.some((column) => column.role === role);
  const unknown = columns.find(({ role }) => !ROLES[kind].includes(role));
  if (unknown)
    throw new FileError(
      'invalid-query',
      `A column of ${kind} cannot be \`${unknown.role}\`; it is one of ${ROLES[kind].join(', ')}.`,
    );
  const told = listed(names);
  if (!has('time') && !has('date'))
    throw new FileError(
      'no-time-column',
      `No column is the time: the file has ${told}. Call one of them time, or say which it is.`,
      { line: 1 },
    );
  const missing = REQUIRED[kind].find((role) => !has(role));
  if (missing)
    throw new FileError(
      'no-price-column',
      `No column is the ${missing}: the file has ${told}. Call one of them ${missing}, or say which it is.`,
      { line: 1 },
    );
}

/** The first names of a list that may be long. */
function listed(names: readonly string[]): string {
  const shown = names.slice(0, 12).map((name) => (name.length > 40 ? `${name.slice(0, 40)}…` : name));
  return `${shown.join(', ')}${names.length > 12 ? ` and ${names.length - 12} more` : ''}`;
}

/** What files that are read alike have in common: their format and the names of their columns. */
export const shapeOf = (reading: Reading, names: readonly string[]): string =>
  [reading.format, reading.delimiter, ...names].join('\u001f').slice(0, 4000);

interface SampleTable {
  names: string[];
  rows: string[][];
  header: boolean;
  /** Lines before the header. */
  skip: number;
  delimiter: Reading['delimiter'];
}

function formatOf(sample: Uint8Array): FileFormat {
  const start = new TextDecoder('latin1').decode(sample.subarray(0, 64));
  if (start.startsWith('PAR1')) return 'parquet';
  if (start.startsWith('ARROW1') || start.startsWith('\xff\xff\xff\xff')) return 'arrow';
  const text = start
    .replace(/^(?:\xef\xbb\xbf|\xff\xfe|\xfe\xff)/, '')
    .replaceAll('\0', '')
    .trimStart();
  if (text.startsWith('[')) return 'json';
  return text.startsWith('{') ? 'ndjson' : 'delimited';
}

function encodingOf(sample: Uint8Array): Reading['encoding'] {
  if (sample[0] === 0xff && sample[1] === 0xfe) return 'utf-16le';
  if (sample[0] === 0xfe && sample[1] === 0xff) return 'utf-16be';
  if (sample.length > 3 && sample[1] === 0 && sample[3] === 0) return 'utf-16le';
  if (sample.length > 3 && sample[0] === 0 && sample[2] === 0) return 'utf-16be';
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(sample, { stream: true });
    return 'utf-8';
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    return 'latin1'; // bytes that UTF-8 never has: the older encoding of western files
  }
}

async function tableOf(
  sample: Uint8Array,
  format: FileFormat,
  encoding: Reading['encoding'],
  choices: ReadingChoices,
  { growth, uploadMegabytes }: FileLimits,
): Promise<SampleTable> {
  if (format === 'parquet' || format === 'arrow') {
    const bytes = sample.slice().buffer;
    const source = { byteLength: bytes.byteLength, slice: (from: number, to?: number) => bytes.slice(from, to) };
    const file = await openColumnar(format, source, { growth, mostBytes: uploadMegabytes * 2 ** 20 });
    const rows: string[][] = [];
    for await (const row of file.rows(SAMPLE_ROWS)) rows.push(row);
    return { names: file.names, rows, header: true, skip: 0, delimiter: ',' };
  }
  const text = new TextDecoder(encoding).decode(sample).replace(/^\uFEFF/, '');
  return format === 'delimited' ? delimitedTable(text, choices) : jsonTable(text, format);
}

function jsonTable(text: string, format: 'json' | 'ndjson'): SampleTable {
  const items: object[] = [];
  const source = format === 'ndjson' ? text.split('\n') : splitItems(text);
  for (const part of source.slice(0, SAMPLE_ROWS)) {
    try {
      const item: unknown = JSON.parse(part);
      if (typeof item === 'object' && item !== null) items.push(item);
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error;
      continue; // the last one of a sample is cut off
    }
  }
  const [first] = items;
  if (!first)
    throw new FileError(
      'unreadable-lines',
      'The JSON holds no records: an array of objects or arrays, or one of them a line, is expected.',
      { line: 1 },
    );
  const names = Array.isArray(first) ? first.map((_, index) => `column ${index + 1}`) : Object.keys(first);
  try {
    const rows = items.map((item) => itemFields(item, names));
    return { names, rows, header: !Array.isArray(first), skip: 0, delimiter: ',' };
  } catch (cause) {
    if (!(cause instanceof RangeError)) throw cause;
    throw new FileError('broken-body', 'The JSON is nested too deeply to be records.', { cause });
  }
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
    }
  }
  return items;
}

const DELIMITERS: readonly Reading['delimiter'][] = ['\t', ';', '|', ','];

function delimitedTable(text: string, choices: ReadingChoices): SampleTable {
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.length > 1) lines.pop(); // the last line of a sample may be cut off
  const isNote = (line: string) => line.startsWith('#') || line.trim() === '';
  const records = lines.filter((line) => !isNote(line)).slice(0, SAMPLE_ROWS);
  const delimiter = choices.delimiter ?? delimiterOf(records);
  const skip = choices.skip ?? notesBefore(lines, delimiter, usualFields(records, delimiter), isNote);
  const sample = lines
    .slice(skip)
    .filter((line) => line.trim() !== '')
    .slice(0, SAMPLE_ROWS);
  if (sample.length === 0) throw new FileError('empty-file', 'The file holds no line that is not empty.');
  let cells: string[][];
  try {
    cells = parse(sample.join('\n'), {
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
      trim: true,
      skip_empty_lines: true,
    });
  } catch (error) {
    if (!(error instanceof CsvError)) throw error;
    cells = sample.map((line) => line.split(delimiter).map((cell) => cell.trim())); // quotes that the sample cuts off
  }
  const header = choices.header ?? isHeader(cells);
  const [first] = cells;
  const width = Math.max(...cells.slice(0, 50).map((row) => row.length));
  const names = Array.from({ length: width }, (_, index) => {
    const told = header ? (first[index] ?? '') : '';
    return (index === 0 ? told.replace(/^#\s*/, '') : told) || `column ${index + 1}`;
  });
  return { names, rows: header ? cells.slice(1) : cells, header, skip, delimiter };
}

/** Fields that most lines have. */
function usualFields(lines: string[], delimiter: string): number {
  const counts = lines.map((line) => line.split(delimiter).length).sort((a, b) => a - b);
  return counts[counts.length >> 1] ?? 1;
}

/** Notes that stand before the header or the first record. The last of them is the header where it names as many columns. */
function notesBefore(lines: string[], delimiter: string, fields: number, isNote: (line: string) => boolean): number {
  const found = lines.findIndex((line) => !isNote(line));
  const notes = found < 0 ? 0 : found;
  const last = lines[notes - 1]?.split(delimiter) ?? [];
  const isNamed = fields > 1 && last.length === fields && !last.some((cell) => looksLikeValue(cell.trim()));
  return isNamed && last[0].startsWith('#') ? notes - 1 : notes;
}

/** The delimiter that gives most lines the same number of fields, more than one. */
function delimiterOf(lines: string[]): Reading['delimiter'] {
  let best: Reading['delimiter'] = ',';
  let bestShare = 0;
  for (const delimiter of DELIMITERS) {
    const counts = lines.map((line) => line.split(delimiter).length);
    const usual = counts[counts.length >> 1];
    const share = usual > 1 ? counts.filter((count) => count === usual).length / counts.length : 0;
    if (share > bestShare + 0.05) {
      bestShare = share;
      best = delimiter;
    }
  }
  return best;
}

const looksLikeValue = (cell: string): boolean =>
  /^[^A-Za-z]*\d[^A-Za-z]*$/.test(cell) || /^\d{4}-\d\d-\d\dT/.test(cell);

function isHeader([first, ...rest]: string[][]): boolean {
  if (first.some(looksLikeValue)) return false;
  return rest.length === 0
    ? first.some((cell) => roleOfWord(cell) !== undefined)
    : rest.slice(0, 5).some((row) => row.some(looksLikeValue)) || first.some((cell) => roleOfWord(cell) !== undefined);
}

function decimalOf(cells: string[]): '.' | ',' {
  // both marks in one figure: the last one is the decimal mark
  const both = cells.find((cell) => /\d\.\d{3},\d|\d,\d{3}\.\d/.test(cell));
  if (both) return both.lastIndexOf(',') > both.lastIndexOf('.') ? ',' : '.';
  const commas = cells.filter((cell) => /^[^.:]*\d,(\d{1,2}|\d{4,})\D*$/.test(cell)).length;
  const points = cells.filter((cell) => /^[^,:]*\d\.\d+\D*$/.test(cell) && !DATE.test(cell)).length;
  return commas > points ? ',' : '.';
}

type ColumnType = 'time' | 'date' | 'clock' | 'number' | 'text' | 'empty';

const DATE = /^(\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4}|(19|20)\d{6})$/;
const CLOCK = /^\d{1,2}:\d{2}(:\d{2}(\.\d+)?)?(\s*[AaPp][Mm])?$/;
const TIME = /^(\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4}|(19|20)\d{6})[T ]+\d{1,2}:?\d{2}/;
const EPOCH = /^1?\d{9}(\.\d+)?$|^\d{13}$|^\d{16}$|^\d{19}$/;

function typeOf(cells: string[], decimal: '.' | ','): ColumnType {
  const filled = cells.filter((cell) => cell !== '' && !MISSING.test(cell));
  if (filled.length === 0) return 'empty';
  const most = (fits: (cell: string) => boolean) => filled.filter(fits).length > 0.8 * filled.length;
  if (most((cell) => TIME.test(cell))) return 'time';
  if (most((cell) => DATE.test(cell))) return 'date';
  if (most((cell) => CLOCK.test(cell))) return 'clock';
  if (most((cell) => EPOCH.test(cell)) && most((cell) => Number(cell) >= 1e8)) return 'time';
  // half of them is enough: a column of prices with many flaws is still one of prices
  const numbers = filled.filter((cell) => !Number.isNaN(readStyledNumber(cell, decimal))).length;
  return numbers >= 0.5 * filled.length ? 'number' : 'text';
}

/** Day or month first: the whole sample tells where it can. */
function dateOrderOf(cells: string[]): { order: Reading['dateOrder']; isOpen: boolean } {
  let [first, second, found] = [0, 0, false];
  for (const cell of cells) {
    const match = /^(\d{1,2})[-/.](\d{1,2})[-/.]\d{2,4}/.exec(cell);
    if (!match) continue;
    found = true;
    first = Math.max(first, Number(match[1]));
    second = Math.max(second, Number(match[2]));
  }
  if (!found) return { order: 'year-first', isOpen: false };
  if (second > 12) return { order: 'month-first', isOpen: false };
  return { order: 'day-first', isOpen: first <= 12 };
}

function roleOfWord(word: string): string | undefined {
  return ROLE_OF_WORD.get(word.toLowerCase().replaceAll(/[^a-z]/g, ''));
}

function kindOf({ names, header }: SampleTable, types: ColumnType[], chosen: ReadingChoices['columns']): TapeKind {
  const roles = chosen ? chosen.map(({ role }) => role) : header ? names.map(roleOfWord) : [];
  const has = (role: string) => roles.includes(role);
  if (has('open') && has('high') && has('low')) return 'bars';
  if (has('bid') && has('ask')) return 'quotes';
  if (has('price')) return 'ticks';
  const numbers = types.filter((type) => type === 'number').length;
  if (!header) return numbers >= 4 ? 'bars' : 'ticks';
  // dates with values under names of their own: closes, an index, or a column for each instrument
  return numbers > 0 && (types.includes('time') || types.includes('date')) ? 'series' : 'ticks';
}

/** A role for each column: by its header word if it has one, else by what stands in it, in the usual order. */
function rolesOf(kind: TapeKind, { names, header }: SampleTable, types: ColumnType[]): ColumnReading[] {
  const roles = new Array<string>(names.length).fill('');
  const give = (role: string, index: number) => {
    if (
      index >= 0 &&
      roles[index] === '' &&
      ROLES[kind].includes(role) &&
      !(role !== 'value' && role !== 'text' && roles.includes(role))
    )
      roles[index] = role;
  };
  if (header)
    names.forEach((name, index) => {
      const role = roleOfWord(name);
      if (role === undefined) return;
      // `time` beside a date is its clock; `date` that holds whole times is the time
      if (role === 'time' && types[index] === 'clock') give('clock', index);
      else if (role === 'date' && types[index] === 'time') give('time', index);
      else if (role === 'time' && types[index] === 'date') give('date', index);
      else if (role === 'volume' && kind === 'ticks') give('size', index);
      else if (role === 'size' && kind === 'bars') give('volume', index);
      else if (role !== 'value' || kind !== 'series') give(role, index);
    });
  if (!roles.some((role) => role === 'time' || role === 'date')) {
    give('time', types.indexOf('time'));
    if (!roles.includes('time')) give('date', types.indexOf('date'));
  }
  if (roles.includes('date') && !roles.includes('clock')) give('clock', types.indexOf('clock'));
  const usual =
    kind === 'series' ? types.map(() => 'value') : (USUAL[kind] ?? []).filter((role) => !roles.includes(role));
  const isWanted = (role: string) => !header || REQUIRED[kind].includes(role);
  types.forEach((type, index) => {
    if (roles[index] !== '' || type !== 'number') return;
    const role = usual.shift();
    if (role !== undefined && isWanted(role)) give(role, index);
  });
  return names.map((name, index) => {
    const role = roles[index] || (types[index] === 'text' && kind !== 'series' ? 'text' : 'skip');
    return { role, name: role === 'text' || role === 'value' ? plainName(name) : '' };
  });
}

const USUAL: Partial<Record<TapeKind, string[]>> = {
  ticks: ['price', 'size'],
  quotes: ['bid', 'ask', 'bidSize', 'askSize'],
  bars: ['open', 'high', 'low', 'close', 'volume', 'trades'],
};

/** Chosen roles; columns that are kept under a name take the file's own where none was given. */
function named(chosen: ColumnReading[], names: readonly string[]): ColumnReading[] {
  return chosen.map(({ role, name }, index) => ({
    role,
    name: name || (role === 'text' || role === 'value' ? plainName(names[index] ?? `column ${index + 1}`) : ''),
  }));
}

/** A name fit for formulas. */
export function plainName(name: string): string {
  const words = name
    .normalize('NFKD')
    .replaceAll(/[^A-Za-z0-9]+/g, '_')
    .replaceAll(/^_+|_+$/g, '');
  return (/^[A-Za-z]/.test(words) ? words : `T_${words || 'x'}`).slice(0, 40);
}
