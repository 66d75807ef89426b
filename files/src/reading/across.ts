import { fieldsOfLines, delimitedText } from '../formats/delimitedText.js';
import { typeOf } from './columnTypes.js';
import type { Reading } from './reading.js';

/** Rows among which the one with the dates is looked for. */
const MOST_ABOVE = 40;
/** Columns before the first date: the item, its unit, a note. */
const MOST_BEFORE = 3;

/** Where in a table the dates stand across: their row, and their columns. */
interface Across {
  row: number;
  columns: number[];
}

/** Whether periods stand across in a table, as in a statement: one row of dates, and under it a row for each item. */
function acrossIn(rows: readonly (readonly string[])[]): Across | undefined {
  for (let row = 0; row < Math.min(rows.length - 1, MOST_ABOVE); row++) {
    const columns = dateColumns(rows[row]);
    if (!columns) continue;
    // what is under it are items with figures
    const items = rows.slice(row + 1).filter((cells) => columns.some((column) => /\d/.test(cells[column] ?? '')));
    const named = items.filter(([first = '']) => /[^\d\s.,/:-]/.test(first));
    if (items.length > 0 && named.length > 0.8 * items.length) return { row, columns };
  }
  return undefined;
}

function dateColumns(cells: readonly string[]): number[] | undefined {
  if (/\d/.test(cells[0] ?? '')) return undefined; // a record, or a title
  const filled = cells.flatMap((cell, column) => (cell.trim() === '' ? [] : [column]));
  for (let before = 0; before <= MOST_BEFORE; before++) {
    const columns = filled.filter((column) => column > 0).slice(before);
    while (columns.length > 1 && !isPeriod(cells[columns[columns.length - 1]])) columns.pop(); // totals and notes at the end
    if (columns.length < 2) return undefined;
    if (arePeriods(columns.map((column) => cells[column]))) return columns;
  }
  return undefined;
}

const isPeriod = (cell: string): boolean => /\d/.test(cell);

function arePeriods(cells: readonly string[]): boolean {
  const type = typeOf(cells, '.', '');
  if (new Set(cells).size < cells.length) return false;
  if (type !== 'date' && type !== 'time') return false;
  // figures alone are years only where one follows on the other
  const years = cells.map(Number);
  if (!cells.every((cell) => /^\d{4}$/.test(cell))) return true;
  const step = years[1] - years[0];
  return Math.abs(step) === 1 && years.every((year, at) => at === 0 || year - years[at - 1] === step);
}

/** Whether the text of a file has its periods across. */
export const isAcross = (text: string, delimiter: Reading['delimiter']): boolean =>
  acrossIn(fieldsOfLines(text.split(/\r\n|\n|\r/, 400), delimiter)) !== undefined;

/** The same table with a row for each period, and a header; as it is where no periods stand across. */
export function turned(text: string, delimiter: Reading['delimiter']): string {
  const rows = fieldsOfLines(text.split(/\r\n|\n|\r/), delimiter);
  const found = acrossIn(rows) ?? { row: 0, columns: (rows[0] ?? []).map((_, column) => column).slice(1) };
  const items = rows
    .slice(found.row + 1)
    .filter((cells) => found.columns.some((column) => (cells[column] ?? '') !== ''));
  const names = distinct(items.map(([name = '']) => name));
  const periods = found.columns.map((column) => [
    rows[found.row]?.[column] ?? '',
    ...items.map((cells) => cells[column] ?? ''),
  ]);
  return delimitedText([['date', ...names], ...periods], delimiter);
}

/** Names of which none stands twice. */
function distinct(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name, index) => {
    const stem = name || `item_${index + 1}`;
    let free = stem;
    for (let number = 2; taken.has(free); number++) free = `${stem}_${number}`;
    taken.add(free);
    return free;
  });
}
