import { DataType, RecordBatchReader } from 'apache-arrow';
import {
  parquetMetadataAsync,
  parquetReadObjects,
  parquetSchema,
  type AsyncBuffer,
  type ParquetParsers,
} from 'hyparquet';
import { FileError } from '../fileError.js';
import { rfc3339 } from '@jaunty-ledger/core';
import { MOST_FIELDS, readTexts } from './delimitedRows.js';
import { refuseGrowth, type Unpacking } from './decoding.js';
import { fieldText, ownField } from './jsonRows.js';
import type { LineTaker } from '../records/recordReader.js';

/** Rows of a Parquet file that are held as objects at once. */
const ROWS_AT_ONCE = 20_000;

/** A value of a typed column as text: times in RFC 3339, whole numbers in full. */
function typedText(value: unknown): string {
  if (value instanceof Date) return value.toISOString();
  return fieldText(typeof value === 'bigint' ? value.toString() : value);
}

export interface ColumnarFile {
  names: string[];
  /** Rows of texts, in the order of the names. */
  rows: (most: number) => AsyncGenerator<string[]>;
}

/**
 * Opens a Parquet or Arrow file that lies whole in memory or on disk.
 * @throws {FileError} where it is none, or would unpack to too much; its rows likewise, where it is damaged further on
 */
export async function openColumnar(
  format: 'parquet' | 'arrow',
  file: AsyncBuffer,
  bounds: Unpacking,
): Promise<ColumnarFile> {
  const damaged = (cause: unknown) => {
    if (cause instanceof FileError) return cause;
    const name = format === 'parquet' ? 'Parquet' : 'Arrow';
    const says = cause instanceof Error ? cause.message.slice(0, 200) : String(cause);
    return new FileError('broken-body', `This ${name} file is damaged, or is none: ${says}.`, { cause });
  };
  try {
    const { names, rows } = await (format === 'parquet' ? openParquet(file, bounds) : openArrow(file, bounds));
    return {
      names,
      async *rows(most) {
        const found = rows(most);
        for (;;) {
          const next = await found.next().catch((cause: unknown) => Promise.reject(damaged(cause)));
          if (next.done) return;
          yield next.value;
        }
      },
    };
  } catch (cause) {
    throw damaged(cause);
  }
}

/** Times to the microsecond: as dates they would lose what lies below a millisecond. */
const INSTANTS: Partial<ParquetParsers> = {
  timestampFromMicroseconds: (micros) => rfc3339(Number(micros)),
  timestampFromNanoseconds: (nanos) => rfc3339(Number(nanos / 1000n)),
};

async function openParquet(file: AsyncBuffer, bounds: Unpacking): Promise<ColumnarFile> {
  const metadata = await parquetMetadataAsync(file);
  const names = parquetSchema(metadata).children.map((child) => child.element.name);
  const total = Number(metadata.num_rows);
  // a few bytes can stand for millions of equal rows
  refuseGrowth(file.byteLength, total * names.length * 8, bounds);
  for (const { columns } of metadata.row_groups)
    for (const { meta_data } of columns)
      refuseGrowth(file.byteLength, Number(meta_data?.total_uncompressed_size ?? 0), bounds);
  return {
    names,
    async *rows(most) {
      for (let from = 0; from < Math.min(total, most); from += ROWS_AT_ONCE) {
        const objects = await parquetReadObjects({
          file,
          metadata,
          rowStart: from,
          rowEnd: Math.min(total, most, from + ROWS_AT_ONCE),
          parsers: INSTANTS,
        });
        for (const object of objects) yield names.map((name) => typedText(ownField(object, name)));
      }
    },
  };
}

async function openArrow(file: AsyncBuffer, bounds: Unpacking): Promise<ColumnarFile> {
  const bytes = new Uint8Array(await file.slice(0, file.byteLength));
  const names = RecordBatchReader.from(bytes)
    .open()
    .schema.fields.map(({ name }) => name);
  return {
    names,
    async *rows(most) {
      let count = 0;
      let told = 0;
      for (const batch of RecordBatchReader.from(bytes)) {
        told += batch.numRows;
        refuseGrowth(bytes.length, told * names.length * 8, bounds);
        const columns = names.map((_, index) => batch.getChildAt(index));
        const { fields } = batch.schema;
        for (let row = 0; row < batch.numRows && count < most; row++, count++)
          yield columns.map(
            (column, index) =>
              instantText(fields[index].type, column?.data[0]?.values, row) ?? typedText(column?.get(row)),
          );
      }
    },
  };
}

/** A timestamp to the microsecond, as epoch text; undefined for columns of other types. */
function instantText(type: DataType, values: unknown, row: number): string | undefined {
  if (!DataType.isTimestamp(type) || !(values instanceof BigInt64Array)) return undefined;
  const perUnit = [1_000_000n, 1000n, 1n][type.unit];
  return String(perUnit === undefined ? values[row] / 1000n : values[row] * perUnit);
}

/** Hands every row of a columnar file on; gives how many there were. */
export async function readColumnar(
  file: ColumnarFile,
  records: LineTaker,
  between: () => Promise<void>,
): Promise<number> {
  const starts = new Int32Array(MOST_FIELDS);
  const ends = new Int32Array(MOST_FIELDS);
  let row = 0;
  for await (const fields of file.rows(Infinity)) {
    readTexts(records, fields, ++row, () => fields.join(','), starts, ends);
    if (row % ROWS_AT_ONCE === 0) await between();
  }
  return row;
}
