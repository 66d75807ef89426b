import {
  DataType,
  Float64,
  makeData,
  makeVector,
  Table,
  tableFromIPC,
  tableToIPC,
  TimestampMicrosecond,
  Uint8,
  type Vector,
} from 'apache-arrow';

/** Named columns over common rows, on their way between programs. Columns named in `instants` are times. */
export interface ColumnTable {
  columns: Record<string, Float64Array | Uint8Array>;
  instants: readonly string[];
}

/** Columns of instants in every table of ours. */
export const INSTANTS = ['time', 'end'] as const;

/** The Arrow IPC stream of a table. Instants are timestamps in microseconds, UTC; missing values stay NaN. */
export function toArrow({ columns, instants }: ColumnTable): Uint8Array {
  const vectors: Record<string, Vector> = {};
  for (const [name, column] of Object.entries(columns))
    vectors[name] =
      column instanceof Uint8Array
        ? makeVector(makeData({ type: new Uint8(), data: column }))
        : instants.includes(name)
          ? timestamps(column)
          : makeVector(makeData({ type: new Float64(), data: column }));
  return tableToIPC(new Table(vectors), 'stream');
}

function timestamps(column: Float64Array): Vector {
  return makeVector(makeData({ type: new TimestampMicrosecond('UTC'), data: integersOf(column) }));
}

/*
 * 64-bit integers are written and read as two halves, the lower one first as Arrow has it: making a BigInt of each costs
 * twenty times as much.
 */
const HALF = 2 ** 32;

function integersOf(column: Float64Array): BigInt64Array {
  const halves = new Int32Array(2 * column.length);
  for (let row = 0; row < column.length; row++) {
    const upper = Math.floor(column[row] / HALF);
    halves[2 * row] = column[row] - upper * HALF;
    halves[2 * row + 1] = upper;
  }
  return new BigInt64Array(halves.buffer);
}

function doublesOf({ buffer, byteOffset, length }: BigInt64Array): Float64Array {
  const halves = new Int32Array(buffer, byteOffset, 2 * length);
  const column = new Float64Array(length);
  for (let row = 0; row < length; row++) column[row] = halves[2 * row + 1] * HALF + (halves[2 * row] >>> 0);
  return column;
}

/** Reads back what `toArrow` wrote. */
export function fromArrow(bytes: Uint8Array): ColumnTable {
  const table = tableFromIPC(bytes);
  const columns: ColumnTable['columns'] = {};
  const instants: string[] = [];
  for (const { name, type } of table.schema.fields) {
    // our tables are written in one batch, so each column is one array, perhaps with a few bytes of filling behind it
    const values = (table.getChild(name)!.data[0]?.values.subarray(0, table.numRows) ??
      (DataType.isInt(type) ? new Uint8Array(0) : new Float64Array(0))) as Float64Array | Uint8Array | BigInt64Array;
    if (DataType.isTimestamp(type)) {
      instants.push(name);
      columns[name] = doublesOf(values as BigInt64Array);
    } else columns[name] = values as Float64Array | Uint8Array;
  }
  return { columns, instants };
}
