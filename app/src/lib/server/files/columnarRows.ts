import { DataType, RecordBatchReader } from 'apache-arrow';
import {
  parquetMetadataAsync,
  parquetReadObjects,
  parquetSchema,
  type AsyncBuffer,
  type ParquetParsers,
} from 'hyparquet';
import { refuse } from '$lib/api/problems';
import { rfc3339 } from '$lib/api/times';
import { MOST_FIELDS, readTexts } from './delimitedRows';
import { fieldText } from './jsonRows';
import type { LineTaker } from './recordReader';

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

/** Opens a Parquet or Arrow file that lies whole in memory or on disk. @throws {Refusal} where it is none */
export async function openColumnar(format: 'parquet' | 'arrow', file: AsyncBuffer): Promise<ColumnarFile> {
  try {
    return format === 'parquet' ? await openParquet(file) : await openArrow(file);
  } catch (cause) {
    const name = format === 'parquet' ? 'Parquet' : 'Arrow';
    throw refuse(
      'broken-body',
      `This is no ${name} file that can be read: ${cause instanceof Error ? cause.message : String(cause)}.`,
      {},
      { cause },
    );
  }
}

/** Times to the microsecond: as dates they would lose what lies below a millisecond. */
const INSTANTS: Partial<ParquetParsers> = {
  timestampFromMicroseconds: (micros) => rfc3339(Number(micros)),
  timestampFromNanoseconds: (nanos) => rfc3339(Number(nanos / 1000n)),
};

async function openParquet(file: AsyncBuffer): Promise<ColumnarFile> {
  const metadata = await parquetMetadataAsync(file);
  const names = parquetSchema(metadata).children.map((child) => child.element.name);
  const total = Number(metadata.num_rows);
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
        for (const object of objects) yield names.map((name) => typedText((object as Record<string, unknown>)[name]));
      }
    },
  };
}

async function openArrow(file: AsyncBuffer): Promise<ColumnarFile> {
  const bytes = new Uint8Array(await file.slice(0, file.byteLength));
  const names = RecordBatchReader.from(bytes)
    .open()
    .schema.fields.map(({ name }) => name);
  return {
    names,
    async *rows(most) {
      let count = 0;
      for (const batch of RecordBatchReader.from(bytes)) {
        const columns = names.map((name) => batch.getChild(name));
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
