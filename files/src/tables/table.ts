import {
  DataType,
  Dictionary,
  Float64,
  Int32,
  makeData,
  makeVector,
  Table as ArrowTable,
  tableFromIPC,
  tableToIPC,
  TimestampMicrosecond,
  Uint8,
  Utf8,
  vectorFromArray,
  type Vector,
} from 'apache-arrow';

/** One column on its way between programs. */
export type TableColumn = { name: string } & (
  | { kind: 'instants' | 'numbers'; values: Float64Array }
  /** 1 or 0. */
  | { kind: 'marks'; values: Uint8Array }
  /** Places among `words`, NaN where there is none. */
  | { kind: 'words'; values: Float64Array; words: readonly string[] }
);

/** Named columns over common rows, in order. A list, since names are those of a file and may be any. */
export type Table = readonly TableColumn[];

export const columnNamed = (table: Table, name: string): TableColumn | undefined =>
  table.find((column) => column.name === name);

/**
 * The Arrow IPC stream of a table. Instants are timestamps in microseconds, UTC; words come with a dictionary; missing
 * values stay NaN, missing words are null.
 */
export function toArrow(table: Table): Uint8Array {
  // made by entries: a column may be called `__proto__`
  const vectors = Object.fromEntries(table.map((column) => [column.name, vectorOf(column)]));
  return tableToIPC(new ArrowTable(vectors), 'stream');
}

function vectorOf(column: TableColumn): Vector {
  switch (column.kind) {
    case 'marks':
      return makeVector(makeData({ type: new Uint8(), data: column.values }));
    case 'words':
      return dictionaryCodes(column.values, column.words);
    case 'instants':
      return makeVector(makeData({ type: new TimestampMicrosecond('UTC'), data: integersOf(column.values) }));
    case 'numbers':
      return makeVector(makeData({ type: new Float64(), data: column.values }));
  }
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
export function fromArrow(bytes: Uint8Array): Table {
  const table = tableFromIPC(bytes);
  return table.schema.fields.map(({ name, type }, index): TableColumn => {
    const vector = table.getChildAt(index)!;
    if (DataType.isDictionary(type)) {
      const words = [...(vector.data[0]?.dictionary ?? [])] as string[];
      return { name, kind: 'words', values: codesOf(vector, table.numRows), words };
    }
    // our tables are written in one batch, so each column is one array, perhaps with a few bytes of filling behind it
    const values: unknown = vector.data[0]?.values.subarray(0, table.numRows);
    if (DataType.isTimestamp(type))
      return { name, kind: 'instants', values: doublesOf((values ?? new BigInt64Array(0)) as BigInt64Array) };
    if (DataType.isInt(type)) return { name, kind: 'marks', values: (values ?? new Uint8Array(0)) as Uint8Array };
    return { name, kind: 'numbers', values: (values ?? new Float64Array(0)) as Float64Array };
  });
}
