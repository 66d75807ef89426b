import { toParquet } from './parquetTable.js';
import { toArrow, type Table } from './table.js';
import { writeText, type TextWriting } from './textTables.js';

/** Formats of bulk answers, by media type. */
export const TABLE_FORMATS = {
  'application/json': 'json',
  'text/csv': 'csv',
  'application/vnd.apache.arrow.stream': 'arrow',
  'application/x-ndjson': 'ndjson',
  'application/vnd.apache.parquet': 'parquet',
} as const;
export type TableFormat = (typeof TABLE_FORMATS)[keyof typeof TABLE_FORMATS];

export interface TableWriting extends TextWriting {
  format: TableFormat;
}

/** Bytes of a table. */
export function writeTable(table: Table, { format, ...writing }: TableWriting): Uint8Array {
  if (format === 'arrow') return toArrow(table);
  if (format === 'parquet') return toParquet(table, writing.goOn ?? (() => undefined));
  return writeText(table, format, writing);
}
