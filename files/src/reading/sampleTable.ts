import { FileError } from '../fileError.js';
import { fieldsOfLines } from '../formats/delimitedText.js';
import { MISSING } from '../records/numberText.js';
import type { Reading, ReadingChoices } from './reading.js';
import { roleOfWord } from './headerWords.js';

/** The beginning of a file as a table. */
export interface SampleTable {
  names: string[];
  rows: string[][];
  header: boolean;
  /** Lines before the header, and between it and the first record. */
  skip: number;
  under: number;
  delimiter: Reading['delimiter'];
}

/** Rows that a proposal looks at. */
export const SAMPLE_ROWS = 400;

const DELIMITERS: readonly Reading['delimiter'][] = ['\t', ';', '|', ',', ' '];
/** A field that is a number or a time. */
const VALUE =
  /^[^A-Za-z]*\d[^A-Za-z]*$|^\d{4}-\d\d-\d\dT|\d{4}.*\b(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)|(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*[ .,'-]*\d|^\d{4}-?q[1-4]$|^q[1-4][- ]?\d{4}$/i;

/** No value is longer; what is need not be looked through, which could take very long. */
const LONGEST_VALUE = 64;
const isValue = (cell: string): boolean => cell.length <= LONGEST_VALUE && VALUE.test(cell);

/** @param isWhole  whether the text is all of the file */
export function delimitedTable(text: string, choices: ReadingChoices, isWhole = false): SampleTable {
  const lines = text.split(/\r\n|\n|\r/);
  if (lines.length > 1 && !isWhole) lines.pop(); // the last line of a sample may be cut off
  const filled = lines.filter((line) => !isNote(line)).slice(0, SAMPLE_ROWS);
  const delimiter = choices.delimiter ?? delimiterOf(filled.length > 0 ? filled : lines);
  const found = layoutOf(lines, delimiter);
  // where it is said whether there is a header, against what it looks like, the first line is it, or a record
  const firstLine = Math.max(
    0,
    lines.findIndex((line) => !isNote(line)),
  );
  const isOtherwise = choices.header !== undefined && choices.header !== found.header;
  const skip = choices.skip ?? (isOtherwise ? firstLine : found.skip);
  const header = choices.header ?? (skip === found.skip ? found.header : isHeader(lines.slice(skip), delimiter));
  const under = choices.under ?? (header && !isOtherwise && skip === found.skip ? found.under : 0);
  const body = lines.slice(header ? skip + 1 + under : skip).filter((line) => line.trim() !== '');
  const rows = fieldsOfLines(body.slice(0, SAMPLE_ROWS), delimiter);
  const [first = []] = header ? fieldsOfLines([lines[skip] ?? ''], delimiter) : [];
  if (rows.length === 0 && first.length === 0)
    throw new FileError('empty-file', 'The file holds no line that is not empty.');
  const width = Math.max(first.length, ...rows.slice(0, 50).map((row) => row.length));
  const names = Array.from({ length: width }, (_, index) => {
    const told = header ? (first[index] ?? '') : '';
    return withoutMark(told).replace(/^<(.*)>$/, '$1') || `column ${index + 1}`;
  });
  return { names, rows, header, skip, under, delimiter };
}

/** The name of a column without the mark of a comment before it; a mark alone is a name. */
const withoutMark = (name: string): string => name.replace(/^#\s*(?=\S)/, '');

const isNote = (line: string): boolean => line.startsWith('#') || line.trim() === '';

const fieldsOf = (line: string, delimiter: Reading['delimiter']): string[] => fieldsOfLines([line], delimiter)[0] ?? [];

/** Where the header is, if there is one, and where the records begin: the first two lines of the usual width with values. */
function layoutOf(
  lines: readonly string[],
  delimiter: Reading['delimiter'],
): { skip: number; header: boolean; under: number } {
  const head = lines.slice(0, SAMPLE_ROWS);
  const table = head.map((line) => (line.trim() === '' ? [] : fieldsOf(line, delimiter)));
  const widths = table.map((row) => row.length).filter((width) => width > 0);
  const usual = [...widths].sort((a, b) => a - b)[widths.length >> 1] ?? 1;
  const isRecord = (row: number) =>
    row < table.length &&
    table[row].length >= Math.max(1, usual - 1) &&
    !head[row].startsWith('#') &&
    table[row].some((cell) => isValue(cell)) &&
    table[row].filter((cell) => cell !== '' && !MISSING.test(cell) && !isValue(cell)).length <= table[row].length / 2;
  // a title may hold figures too, but the line after it is of another width
  const isOfTable = (row: number) => {
    const next = table.slice(row + 1).filter((cells) => cells.length > 0);
    return table[row].length === usual || next.slice(0, 2).some((cells) => cells.length === table[row].length);
  };
  let start = table.findIndex((_, row) => isRecord(row) && isOfTable(row));
  if (start < 0) start = table.findIndex((_, row) => isRecord(row));
  if (start < 0) start = table.findIndex((row) => row.length > 0);
  const width = table[start]?.length ?? 1;
  // of lines that name as many columns, the one with most words that we know; else the last
  let best = -1;
  let bestKnown = -1;
  for (let row = 0; row < start; row++) {
    const cells = table[row].map((cell) => withoutMark(cell));
    if (Math.abs(cells.length - width) > (cells.length > 1 ? 1 : 0)) continue;
    if (head[row].startsWith('#') && cells.length !== width) continue;
    const known = cells.filter((cell) => roleOfWord(cell) !== undefined).length;
    const isNamed = cells.filter((cell) => cell !== '').length >= Math.min(2, width);
    if (isNamed && known >= bestKnown) [best, bestKnown] = [row, known];
  }
  if (best >= 0 && bestKnown === 0 && width === 1) best = -1; // a title over one column of figures
  // a line within quotes is no line of its own, and one with values is a record, of whatever width
  const isPlain =
    !head.slice(best, start).some((line) => line.includes('"')) &&
    !table.slice(best + 1, start).some((cells) => cells.some((cell) => isValue(cell)));
  if (best >= 0) return { skip: best, header: true, under: isPlain ? start - best - 1 : 0 };
  const header = start >= 0 && isHeader(lines.slice(start), delimiter);
  return { skip: Math.max(0, start), header, under: 0 };
}

/** Whether the first of some lines names the columns of the others. */
function isHeader(lines: readonly string[], delimiter: Reading['delimiter']): boolean {
  const [first = [], ...rest] = fieldsOfLines(lines.filter((line) => line.trim() !== '').slice(0, 6), delimiter);
  const isKnown = first.some((cell) => roleOfWord(cell) !== undefined);
  if (first.some((cell) => isValue(cell))) return false;
  return isKnown || rest.some((row) => row.some((cell) => isValue(cell)));
}

/** The delimiter that gives most lines the same number of fields, more than one. */
function delimiterOf(lines: readonly string[]): Reading['delimiter'] {
  let best: Reading['delimiter'] = ',';
  let bestShare = 0;
  for (const delimiter of DELIMITERS) {
    const counts = fieldsOfLines(lines, delimiter).map(({ length }) => length);
    const usual = [...counts].sort((a, b) => a - b)[counts.length >> 1];
    // spaces stand within fields too: they divide only where nothing else does
    const needed = delimiter === ' ' ? Math.max(bestShare, 0.5) : bestShare;
    const share = usual > 1 ? counts.filter((count) => count === usual).length / counts.length : 0;
    if (share > needed + 0.05) {
      bestShare = share;
      best = delimiter;
    }
  }
  return best;
}
