import { toArrow, type ColumnTable } from '$lib/arrow/table';
import { rfc3339 } from '$lib/api/times';

/** Formats of bulk answers, by media type. */
export const TABLE_FORMATS = {
  'text/csv': 'csv',
  'application/json': 'json',
  'application/vnd.apache.arrow.stream': 'arrow',
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

function csvOf({ columns, instants }: ColumnTable): Uint8Array {
  const names = Object.keys(columns);
  const cells = names.map((name) => {
    const column = columns[name];
    if (instants.includes(name)) return (row: number) => rfc3339(column[row]);
    return (row: number) => (Number.isNaN(column[row]) ? '' : String(column[row]));
  });
  const rows = columns[names[0]].length;
  const encoder = new TextEncoder();
  const parts = [encoder.encode(`${names.map(quoted).join(',')}\n`)];
  for (let from = 0; from < rows; from += ROWS_AT_ONCE) {
    let text = '';
    for (let row = from; row < Math.min(rows, from + ROWS_AT_ONCE); row++) {
      for (let column = 0; column < cells.length; column++) text += (column === 0 ? '' : ',') + cells[column](row);
      text += '\n';
    }
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

const quoted = (name: string): string => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
