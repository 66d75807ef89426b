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

function jsonOf({ columns, instants }: ColumnTable, about: Record<string, unknown>): string {
  const lists = Object.entries(columns).map(([name, column]) => [
    name,
    instants.includes(name) ? Array.from(column, rfc3339) : Array.from(column), // NaN leaves as null
  ]);
  return JSON.stringify({ ...about, columns: Object.fromEntries(lists) });
}

/** Rows that are put together before they become bytes. */
const ROWS_AT_ONCE = 10_000;

function csvOf(table: ColumnTable): Uint8Array {
  const names = Object.keys(table.columns);
  const cells = names.map((name) => {
    const column = table.columns[name];
    if (table.instants.includes(name)) return (row: number) => rfc3339(column[row]);
    return (row: number) => (Number.isNaN(column[row]) ? '' : String(column[row]));
  });
  return linesOf(table, `${names.map(quoted).join(',')}\n`, (row) => {
    let text = '';
    for (let column = 0; column < cells.length; column++) text += (column === 0 ? '' : ',') + cells[column](row);
    return text;
  });
}

/** A row as a JSON object; what is missing is null. */
function rowAsJson({ columns, instants }: ColumnTable): (row: number) => string {
  const names = Object.keys(columns);
  return (row) =>
    JSON.stringify(
      Object.fromEntries(
        names.map((name) => [name, instants.includes(name) ? rfc3339(columns[name][row]) : columns[name][row]]),
      ),
    );
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

/** Instants become timestamps of microseconds; figures doubles, with nulls for what is missing. */
function parquetOf({ columns, instants }: ColumnTable): Uint8Array {
  const names = Object.keys(columns);
  const columnData = names.map((name) => {
    const column = columns[name];
    const data = instants.includes(name)
      ? Array.from(column, BigInt)
      : Array.from(column, (x) => (Number.isNaN(x) ? null : x));
    return { name, data };
  });
  const schema: SchemaElement[] = [
    { name: 'root', num_children: names.length },
    ...names.map((name): SchemaElement =>
      instants.includes(name)
        ? { name, type: 'INT64', converted_type: 'TIMESTAMP_MICROS', repetition_type: 'REQUIRED' }
        : { name, type: 'DOUBLE', repetition_type: 'OPTIONAL' },
    ),
  ];
  return new Uint8Array(parquetWriteBuffer({ columnData, schema }));
}

const quoted = (name: string): string => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
