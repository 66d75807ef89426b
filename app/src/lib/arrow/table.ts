import {
  DataType,
  Dictionary,
  Float64,
  Int32,
  makeData,
  makeVector,
  Table,
  tableFromIPC,
  tableToIPC,
  TimestampMicrosecond,
  Uint8,
  Utf8,
  vectorFromArray,
  type Vector,
} from 'apache-arrow';

/**
 * Named columns over common rows, on their way between programs. Columns named in `instants` are times; those in `words`
 * hold indices of words, NaN where there is none.
 */
export interface ColumnTable {
  columns: Record<string, Float64Array | Uint8Array>;
  instants: readonly string[];
  words?: Words;
}
export type Words = Record<string, readonly string[]>;

/** Columns of instants in every table of ours. */
export const INSTANTS = ['time', 'end'] as const;

/**
 * The Arrow IPC stream of a table. Instants are timestamps in microseconds, UTC; words come with a dictionary; missing
 * values stay NaN, missing words are null.
 */
export function toArrow({ columns, instants, words = {} }: ColumnTable): Uint8Array {
  const vectors: Record<string, Vector> = {};
  for (const [name, column] of Object.entries(columns)) {
    if (column instanceof Uint8Array) vectors[name] = makeVector(makeData({ type: new Uint8(), data: column }));
    else if (name in words) vectors[name] = dictionaryCodes(column, words[name]);
    else if (instants.includes(name)) vectors[name] = timestamps(column);
    else vectors[name] = makeVector(makeData({ type: new Float64(), data: column }));
  }
  return tableToIPC(new Table(vectors), 'stream');
}

function dictionaryCodes(column: Float64Array, words: readonly string[]): Vector {
  const nullBitmap = new Uint8Array(Math.ceil(column.length / 8));
  let nullCount = 0;
  for (let row = 0; row < column.length; row++)
    if (Number.isNaN(column[row])) nullCount++;
    else nullBitmap[row >> 3] |= 1 << (row & 7);
  const type = new Dictionary(new Utf8(), new Int32());
  const data = Int32Array.from(column); // NaN becomes 0, which the bitmap hides
  const dictionary = vectorFromArray([...words], new Utf8());
  return makeVector(makeData({ type, length: column.length, data, nullCount, nullBitmap, dictionary }));
}

function codesOf(vector: Vector, rows: number): Float64Array {
  const values = (vector.data[0]?.values ?? []) as Int32Array;
  return Float64Array.from({ length: rows }, (_, row) => (vector.isValid(row) ? values[row] : NaN));
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
  const words: Record<string, string[]> = {};
  for (const { name, type } of table.schema.fields) {
    const vector = table.getChild(name)!;
    if (DataType.isDictionary(type)) {
      words[name] = [...(vector.data[0]?.dictionary ?? [])] as string[];
      columns[name] = codesOf(vector, table.numRows);
      continue;
    }
    // our tables are written in one batch, so each column is one array, perhaps with a few bytes of filling behind it
    const values = (vector.data[0]?.values.subarray(0, table.numRows) ??
      (DataType.isInt(type) ? new Uint8Array(0) : new Float64Array(0))) as Float64Array | Uint8Array | BigInt64Array;
    if (DataType.isTimestamp(type)) {
      instants.push(name);
      columns[name] = doublesOf(values as BigInt64Array);
    } else columns[name] = values as Float64Array | Uint8Array;
  }
  return { columns, instants, words };
}
