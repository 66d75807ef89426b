import { rfc3339 } from '@jaunty-ledger/core';
import type { Table, TableColumn } from './table.js';

/* Tables as text. Apart from those of other formats, whose packages take a while to load. */

export interface TextWriting {
  /** In CSV: words that a spreadsheet would take for a formula get an apostrophe before them. */
  forSpreadsheet?: boolean;
  /** What JSON says beside the columns. */
  about?: Record<string, unknown>;
  /** Called every few thousand rows; it may throw to stop. */
  goOn?: () => void;
}

export const TEXT_FORMATS = ['json', 'csv', 'ndjson'] as const;
export type TextFormat = (typeof TEXT_FORMATS)[number];

/** Bytes of a table as a text. */
export function writeText(
  table: Table,
  format: TextFormat,
  { forSpreadsheet = false, about = {}, goOn = () => undefined }: TextWriting,
): Uint8Array {
  if (format === 'json') return jsonOf(table, about, goOn);
  if (format === 'csv') return csvOf(table, forSpreadsheet, goOn);
  return joined(linesOf(table, rowAsJson(table), goOn));
}

/** What stands in each row of a column: a time, a word, a number, or nothing. */
export type Cell = string | number | null;

export function cellOf(column: TableColumn): (row: number) => Cell {
  const { kind, values } = column;
  if (kind === 'instants') return (row) => rfc3339(values[row]);
  if (kind === 'words') return (row) => column.words[values[row]] ?? null;
  return (row) => (Number.isFinite(values[row]) ? values[row] : null);
}

const rowsIn = ([first]: Table): number => first?.values.length ?? 0;

/** Rows that are put together before they become bytes. */
const ROWS_AT_ONCE = 10_000;

/** Pieces of so many rows, as bytes. */
function* pieces(rows: number, piece: (from: number, to: number) => string, goOn: () => void): Generator<Uint8Array> {
  const encoder = new TextEncoder();
  for (let from = 0; from < rows; from += ROWS_AT_ONCE) {
    goOn();
    yield encoder.encode(piece(from, Math.min(rows, from + ROWS_AT_ONCE)));
  }
}

function joined(parts: Iterable<Uint8Array>): Uint8Array {
  const all = [...parts];
  const whole = new Uint8Array(all.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of all) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

function jsonOf(table: Table, about: Record<string, unknown>, goOn: () => void): Uint8Array {
  const encoder = new TextEncoder();
  const rows = rowsIn(table);
  const parts: Uint8Array[] = [encoder.encode(`${JSON.stringify({ ...about, columns: {} }).slice(0, -2)}`)];
  table.forEach((column, index) => {
    const cell = cellOf(column);
    parts.push(encoder.encode(`${index > 0 ? ',' : ''}${JSON.stringify(column.name)}:[`));
    const piece = (from: number, to: number) => {
      const cells = Array.from({ length: to - from }, (_, at) => cell(from + at));
      return `${from > 0 ? ',' : ''}${JSON.stringify(cells).slice(1, -1)}`;
    };
    parts.push(...pieces(rows, piece, goOn), encoder.encode(']'));
  });
  parts.push(encoder.encode('}}'));
  return joined(parts);
}

function csvOf(table: Table, forSpreadsheet: boolean, goOn: () => void): Uint8Array {
  const word = (text: string) => quoted(forSpreadsheet ? disarmed(text) : text);
  const cells = table.map((column) => {
    const cell = cellOf(column);
    if (column.kind === 'words') return (row: number) => word((cell(row) ?? '') as string);
    return (row: number) => String(cell(row) ?? '');
  });
  const head = new TextEncoder().encode(`${table.map(({ name }) => word(name)).join(',')}\n`);
  const line = (row: number) => {
    let text = '';
    for (let column = 0; column < cells.length; column++) text += (column === 0 ? '' : ',') + cells[column](row);
    return text;
  };
  return joined([head, ...linesOf(table, line, goOn)]);
}

const quoted = (text: string): string => (/[",\n\r]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** A spreadsheet runs a text that begins so, wherever it comes from. */
const disarmed = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** A row as a JSON object; what is missing is null. */
function rowAsJson(table: Table): (row: number) => string {
  const cells = table.map((column) => [column.name, cellOf(column)] as const);
  return (row) => JSON.stringify(Object.fromEntries(cells.map(([name, cell]) => [name, cell(row)])));
}

function linesOf(table: Table, line: (row: number) => string, goOn: () => void): Iterable<Uint8Array> {
  const piece = (from: number, to: number) => {
    let text = '';
    for (let row = from; row < to; row++) text += `${line(row)}\n`;
    return text;
  };
  return pieces(rowsIn(table), piece, goOn);
}
