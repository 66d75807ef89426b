import type { SchemaElement } from 'hyparquet';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { toArrow, type ColumnTable } from '$lib/arrow/table';
import { rfc3339 } from '$lib/api/times';

/** Formats of bulk answers, by media type. */
export const TABLE_FORMATS = {
  'text/csv': 'csv',
  'application/json': 'json',
  'application/vnd.apache.arrow.stream': 'arrow',
  'application/x-ndjson': 'ndjson',
  'application/vnd.apache.parquet': 'parquet',
} as const;
export type TableFormat = (typeof TABLE_FORMATS)[keyof typeof TABLE_FORMATS];

/** Bytes of a table; `about` is what JSON says beside the columns. */
export function writeTable(table: ColumnTable, format: TableFormat, about: Record<string, unknown>): Uint8Array {
  switch (format) {
    case 'arrow':
      return toArrow(table);
    case 'json':
      return new TextEncoder().encode(jsonOf(table, about));
    case 'csv':
      return csvOf(table);
    case 'ndjson':
      return linesOf(table, '', rowAsJson(table));
    case 'parquet':
      return parquetOf(table);
    default:
      return format satisfies never;
  }
}

/** What stands in each row of a column: a time, a word, a number, or nothing. */
type Cell = string | number | null;

function cellOf({ columns, instants, words = {} }: ColumnTable, name: string): (row: number) => Cell {
  const column = columns[name];
  if (instants.includes(name)) return (row) => rfc3339(column[row]);
  if (name in words) return (row) => words[name][column[row]] ?? null;
  return (row) => (Number.isNaN(column[row]) ? null : column[row]);
}

function jsonOf(table: ColumnTable, about: Record<string, unknown>): string {
  const lists = Object.entries(table.columns).map(([name, { length }]) => {
    const cell = cellOf(table, name);
    return [name, Array.from({ length }, (_, row) => cell(row))];
  });
  return JSON.stringify({ ...about, columns: Object.fromEntries(lists) });
}

/** Rows that are put together before they become bytes. */
const ROWS_AT_ONCE = 10_000;

function csvOf(table: ColumnTable): Uint8Array {
  const names = Object.keys(table.columns);
  const cells = names.map((name) => {
    const cell = cellOf(table, name);
    if (table.words && name in table.words) return (row: number) => quoted((cell(row) ?? '') as string);
    return (row: number) => String(cell(row) ?? '');
  });
  return linesOf(table, `${names.map(quoted).join(',')}\n`, (row) => {
    let text = '';
    for (let column = 0; column < cells.length; column++) text += (column === 0 ? '' : ',') + cells[column](row);
    return text;
  });
}

/** A row as a JSON object; what is missing is null. */
function rowAsJson(table: ColumnTable): (row: number) => string {
  const cells = Object.keys(table.columns).map((name) => [name, cellOf(table, name)] as const);
  return (row) => JSON.stringify(Object.fromEntries(cells.map(([name, cell]) => [name, cell(row)])));
}

/** A head, then a line for each row. */
function linesOf({ columns }: ColumnTable, head: string, line: (row: number) => string): Uint8Array {
  const [some] = Object.values(columns);
  const encoder = new TextEncoder();
  const parts = [encoder.encode(head)];
  for (let from = 0; from < some.length; from += ROWS_AT_ONCE) {
    let text = '';
    for (let row = from; row < Math.min(some.length, from + ROWS_AT_ONCE); row++) text += `${line(row)}\n`;
    parts.push(encoder.encode(text));
  }
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/** Instants become timestamps of microseconds; figures doubles and words texts, with nulls for what is missing. */
function parquetOf(table: ColumnTable): Uint8Array {
  const { columns, instants, words = {} } = table;
  const names = Object.keys(columns);
  const columnData = names.map((name) => {
    const column = columns[name];
    const cell = cellOf(table, name);
    const data = instants.includes(name) ? Array.from(column, BigInt) : Array.from(column, (_, row) => cell(row));
    return { name, data };
  });
  const schema: SchemaElement[] = [
    { name: 'root', num_children: names.length },
    ...names.map((name): SchemaElement => {
      if (instants.includes(name))
        return { name, type: 'INT64', converted_type: 'TIMESTAMP_MICROS', repetition_type: 'REQUIRED' };
      if (name in words) return { name, type: 'BYTE_ARRAY', converted_type: 'UTF8', repetition_type: 'OPTIONAL' };
      return { name, type: 'DOUBLE', repetition_type: 'OPTIONAL' };
    }),
  ];
  return new Uint8Array(parquetWriteBuffer({ columnData, schema }));
}

const quoted = (name: string): string => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
