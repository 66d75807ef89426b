import type { SchemaElement } from 'hyparquet';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { toArrow, type Table } from './table.js';
import { cellOf, writeText, type TextWriting } from './textTables.js';

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
  if (format === 'parquet') return parquetOf(table, writing.goOn ?? (() => undefined));
  return writeText(table, format, writing);
}

/** Instants become timestamps of microseconds; figures doubles and words texts, with nulls for what is missing. */
function parquetOf(table: Table, goOn: () => void): Uint8Array {
  const columnData = table.map((column) => {
    goOn();
    const { name, kind, values } = column;
    const cell = cellOf(column);
    return { name, data: kind === 'instants' ? Array.from(values, BigInt) : Array.from(values, (_, row) => cell(row)) };
  });
  const schema: SchemaElement[] = [
    { name: 'root', num_children: table.length },
    ...table.map(({ name, kind }): SchemaElement => {
      if (kind === 'instants')
        return { name, type: 'INT64', converted_type: 'TIMESTAMP_MICROS', repetition_type: 'REQUIRED' };
      if (kind === 'words') return { name, type: 'BYTE_ARRAY', converted_type: 'UTF8', repetition_type: 'OPTIONAL' };
      return { name, type: 'DOUBLE', repetition_type: 'OPTIONAL' };
    }),
  ];
  return new Uint8Array(parquetWriteBuffer({ columnData, schema }));
}
