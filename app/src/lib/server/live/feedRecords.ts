import { GrowingColumn } from '@jaunty-ledger/core';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import type { StoredTape } from '../store/tapeRows';

/** Records as they were sent, in their order, of one sender. */
export interface SentRecords {
  rows: number;
  columns: RecordColumns;
  /** Their numbers, NaN for one without; nothing where none has one. What was safe before is not entered again. */
  sequences: Float64Array | undefined;
}

/** Names that the records of a tape are stored under. */
export const storedNames = ({
  columns,
  texts,
  numbers,
}: Pick<StoredTape, 'columns' | 'texts' | 'numbers'>): string[] => [
  ...columns,
  ...[...texts, ...numbers].map(({ column }) => column),
];

/** Columns of records that grow. */
export class RecordGatherer {
  private readonly columns: Map<string, GrowingColumn>;

  constructor(private readonly names: readonly string[]) {
    this.columns = new Map(names.map((name) => [name, new GrowingColumn(256)]));
  }

  get rows(): number {
    return this.columns.get('time')!.length;
  }

  push(values: ReadonlyMap<string, number>): void {
    for (const [name, column] of this.columns) column.push(values.get(name) ?? NaN);
  }

  append(block: RecordColumns): void {
    for (const [name, column] of this.columns) column.append(block[name]);
  }

  take(): RecordColumns {
    const taken = this.names.map((name) => [name, this.columns.get(name)!.toArray()] as const);
    for (const name of this.names) this.columns.set(name, new GrowingColumn(256));
    return Object.fromEntries(taken) as RecordColumns;
  }
}

/** Rows [from, to) of some records. */
export const rowsOfRecords = (columns: RecordColumns, from: number, to: number): RecordColumns =>
  Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.subarray(from, to)]),
  ) as RecordColumns;

/** Some rows of records, in the order that is told. */
export const pickedRecords = (columns: RecordColumns, rows: Uint32Array): RecordColumns =>
  Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, Float64Array.from(rows, (row) => column[row])]),
  ) as RecordColumns;

/** Records in order of time; of one instant as they came. They are as they were where they are in order already. */
export function inOrder(columns: RecordColumns): RecordColumns {
  const { time } = columns;
  let row = 1;
  while (row < time.length && time[row] >= time[row - 1]) row++;
  if (row >= time.length) return columns;
  return pickedRecords(
    columns,
    Uint32Array.from(time.keys()).sort((a, b) => time[a] - time[b] || a - b),
  );
}

/** Two runs of records, each in order of time, as one; of one instant the old ones come first. */
export function merged(old: RecordColumns, fresh: RecordColumns): RecordColumns {
  const rows = old.time.length;
  const whole = Object.fromEntries(
    Object.keys(old).map((name) => {
      const column = new Float64Array(rows + fresh[name].length);
      column.set(old[name]);
      column.set(fresh[name], rows);
      return [name, column];
    }),
  ) as RecordColumns;
  return inOrder(whole);
}
