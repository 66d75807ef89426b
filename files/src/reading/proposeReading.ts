import { rfc3339 } from '@jaunty-ledger/core';
import { FileError } from '../fileError.js';
import type { FileLimits } from '../fileLimits.js';
import { dateOrderOf, timesOf, typeOf, withCompactClocks } from './columnTypes.js';
import { decimalMarkOf } from './decimalMark.js';
import { jsonFormatOf, jsonTable, type JsonLayout } from './jsonTable.js';
import { isAcross, turned } from './across.js';
import { isDelimited, REQUIRED, ROLES, type FileFormat, type Reading, type ReadingChoices } from './reading.js';
import { readStyledNumber } from '../records/numberText.js';
import { kindOf, named, rolesOf } from './roles.js';
import { delimitedTable, SAMPLE_ROWS, type SampleTable } from './sampleTable.js';

/** What was found out about a file from its beginning. */
export interface Proposal {
  reading: Reading;
  /** Names of the columns as the file gives them, or `column 1` and on. */
  names: string[];
  /** The first rows as they stand, without the header. */
  rows: string[][];
  /** Choices that the sample leaves open. */
  open: ('dateOrder' | 'decimal')[];
  /** A figure whose mark is open. */
  figure?: string;
}

/** Letters of a field that tell what it is. */
const LONGEST_CELL = 100;

/**
 * Proposes how a file is read, from its first bytes; what was chosen already is kept.
 * @param isWhole  whether these are all of its bytes
 * @throws {FileError} for an empty file, and one that cannot be read as what it is chosen to be
 */
export async function proposeReading(
  sample: Uint8Array,
  choices: ReadingChoices,
  limits: FileLimits,
  isWhole = false,
): Promise<Proposal> {
  if (sample.length === 0)
    throw new FileError(
      'empty-file',
      'The file is empty. Drop one with a line for each record, such as 2026-02-02T08:30:00Z,84.20,15.',
    );
  const encoding = choices.encoding ?? encodingOf(sample);
  const format = choices.format ?? formatOf(sample, encoding);
  const table = await tableOf(sample, format, encoding, choices, limits, isWhole);
  if (table.names.length > limits.columns)
    throw new FileError(
      'too-many-columns',
      `The file has ${table.names.length.toLocaleString('en')} columns; at most ${limits.columns} can be read. Is it divided by the right mark?`,
    );
  // notes at the foot of a file say nothing of its columns
  const records = table.rows.filter((row) => row.some((cell) => /\d/.test(cell)));
  const columnAt = (index: number) => records.map((row) => (row[index] ?? '').slice(0, LONGEST_CELL));
  const mark = decimalMarkOf(
    table.names.map((_, index) => columnAt(index)),
    table.header ? table.names : [],
    table.delimiter,
    format === 'delimited',
  );
  const decimal = choices.decimal ?? mark.decimal;
  const plain = table.names.map((name, index) => typeOf(columnAt(index), decimal, table.header ? name : ''));
  const types = withCompactClocks(plain, columnAt, table.header ? table.names : table.names.map(() => ''));
  const dated = types.flatMap((type, index) => (type === 'time' || type === 'date' ? [columnAt(index)] : []));
  const { order, isOpen } = dateOrderOf(dated);
  const kind = choices.kind ?? kindOf({ ...table, rows: records }, types, choices.columns);
  const columns = choices.columns
    ? named(choices.columns, table.names)
    : rolesOf(kind, { ...table, rows: records }, types);
  const reading: Reading = {
    format,
    encoding,
    delimiter: table.delimiter,
    header: table.header,
    skip: table.skip,
    under: table.under,
    sheet: choices.sheet ?? '',
    path: table.path ?? '',
    layout: table.layout ?? 'rows',
    decimal,
    dateOrder: choices.dateOrder ?? order,
    kind,
    columns,
  };
  return {
    ...{ reading, names: table.names, rows: table.rows },
    open: [
      ...(isOpen && !choices.dateOrder ? (['dateOrder'] as const) : []),
      ...(mark.isOpen && !choices.decimal ? (['decimal'] as const) : []),
    ],
    figure: mark.example,
  };
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
  const twice = columns.find(
    ({ role }, index) => SINGLE_ROLES.has(role) && columns.findIndex((other) => other.role === role) < index,
  );
  if (twice)
    throw new FileError('invalid-query', `Two columns are the ${twice.role}; say what the other one is, or skip it.`);
  const told = listed(names);
  if (!has('time') && !has('date') && !has('period'))
    throw new FileError(
      'no-time-column',
      `No column is the time: the file has ${told}. Call one of them time, or say which it is; plain numbers of periods are a \`period\`.`,
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

/** Roles that one column alone can have. */
const SINGLE_ROLES: ReadonlySet<string> = new Set(
  Object.values(ROLES)
    .flat()
    .filter((role) => !['skip', 'text', 'number', 'value'].includes(role)),
);

/** @throws {FileError} where the file leaves open what its dates or figures mean, with both readings of one of them */
export function requireDecided({ open, rows, reading, figure }: Proposal): void {
  if (open.includes('decimal'))
    throw new FileError(
      'decimal-open',
      `Does ${figure} mean ${readStyledNumber(figure!, figure!.includes(',') ? ',' : '.')} or ${readStyledNumber(figure!, figure!.includes(',') ? '.' : ',')}? Both fit the figures that were looked at; say \`decimal=comma\` or \`decimal=point\`.`,
    );
  if (!open.includes('dateOrder')) return;
  const at = reading.columns.findIndex(({ role }) => role === 'time' || role === 'date');
  const cells = rows.map((row) => row[at] ?? '');
  const [byDay, byMonth] = (['day-first', 'month-first'] as const).map((order) =>
    timesOf(cells, order).instants.map((instant) => (Number.isNaN(instant) ? '' : rfc3339(instant).slice(0, 10))),
  );
  const row = cells.findIndex((_, row) => byDay[row] !== '' && byMonth[row] !== '' && byDay[row] !== byMonth[row]);
  throw new FileError(
    'date-order-open',
    `Does ${cells[row]} mean ${byDay[row]} (day first) or ${byMonth[row]} (month first)? Both fit the dates that were looked at; say \`dateOrder=day-first\` or \`dateOrder=month-first\`.`,
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

function formatOf(sample: Uint8Array, encoding: Reading['encoding']): FileFormat {
  const start = new TextDecoder('latin1').decode(sample.subarray(0, 64));
  if (start.startsWith('PAR1')) return 'parquet';
  if (start.startsWith('ARROW1') || start.startsWith('\xff\xff\xff\xff')) return 'arrow';
  const text = start
    .replace(/^(?:\xef\xbb\xbf|\xff\xfe|\xfe\xff)/, '')
    .replaceAll('\0', '')
    .trimStart();
  if (text.startsWith('[')) return 'json';
  return text.startsWith('{') ? jsonFormatOf(textOf(sample, encoding)) : 'delimited';
}

const textOf = (sample: Uint8Array, encoding: Reading['encoding']): string =>
  new TextDecoder(encoding).decode(sample).replace(/^\uFEFF/, '');

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
  isWhole: boolean,
): Promise<SampleTable & Partial<JsonLayout>> {
  if (format === 'parquet' || format === 'arrow') {
    // large, and few files need it
    const { openColumnar } = await import('../formats/columnarRows.js');
    const bytes = sample.slice().buffer;
    const source = { byteLength: bytes.byteLength, slice: (from: number, to?: number) => bytes.slice(from, to) };
    const file = await openColumnar(format, source, { growth, mostBytes: uploadMegabytes * 2 ** 20 });
    const rows: string[][] = [];
    for await (const row of file.rows(SAMPLE_ROWS)) rows.push(row);
    return { names: file.names, rows, header: true, skip: 0, under: 0, delimiter: ',' };
  }
  const text = textOf(sample, encoding);
  if (!isDelimited(format)) return jsonTable(text, format === 'ndjson' ? 'ndjson' : 'json', choices);
  const table = delimitedTable(text, choices, isWhole);
  const layout = choices.layout ?? (!choices.columns && isAcross(text, table.delimiter) ? 'across' : 'rows');
  if (layout !== 'across') return table;
  const { delimiter } = table;
  return {
    ...delimitedTable(turned(text, delimiter), { header: true, skip: 0, under: 0, ...choices, delimiter }, true),
    layout,
  };
}
