import { parquetReadObjects, type SchemaElement } from 'hyparquet';
import { parquetWriteBuffer } from 'hyparquet-writer';
import type { Table } from './table.js';
import { cellOf } from './textTables.js';

/** Instants become timestamps of microseconds; figures doubles and words texts, with nulls for what is missing. */
export function toParquet(table: Table, goOn: () => void): Uint8Array {
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

/**
 * The columns of a file that `toParquet` wrote: instants in microseconds, figures and words, null where one is missing.
 * @throws where the bytes are no such file
 */
export async function fromParquet(bytes: Uint8Array): Promise<Map<string, (number | string | null)[]>> {
  const file = Uint8Array.from(bytes).buffer; // a Buffer may be a part of larger memory
  const objects = await parquetReadObjects({
    file,
    // whole numbers of 64 bits, which ours are told apart in
    parsers: { timestampFromMicroseconds: (micros: bigint) => micros },
  });
  const names = Object.keys(objects[0] ?? {});
  const plain = (cell: unknown) => (typeof cell === 'bigint' ? Number(cell) : (cell as number | string | null));
  return new Map(names.map((name) => [name, objects.map((row) => plain(row[name]))]));
}
