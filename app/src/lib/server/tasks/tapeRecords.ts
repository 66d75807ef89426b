import { firstRowFrom } from '@jaunty-ledger/core';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import type { DecodeRoom } from '../chunks/tapeChunk';
import { recordColumns } from '@jaunty-ledger/files/records/textColumns';
import type { Table } from '@jaunty-ledger/files/tables/table';
import { chunksBetween, recordsIn } from '../store/chunks';
import type { Store } from '../store/store';
import type { StoredTape } from '../store/tapeRows';
import type { Course } from './course';
import type { Range } from './range';

interface Wanted {
  fromSequence?: number;
  /** Columns that are not wanted. */
  without?: readonly string[];
  room?: DecodeRoom;
  course: Course;
}

/** The records of a tape from the chunks that hold some of a range, a block after the other. */
export async function* recordsBetween(
  store: Store,
  tape: StoredTape,
  { from, to }: Range,
  { fromSequence = 0, without = [], room, course }: Wanted,
): AsyncGenerator<RecordColumns> {
  for await (const chunk of chunksBetween(store, tape, from, to, fromSequence)) {
    course.goOn();
    yield recordsIn(tape, chunk, without, room);
  }
}

/** The rows whose time lies in [from, to), as [first, end). */
export function rowsWithin(time: Float64Array, { from, to }: Range): [number, number] {
  return [firstRowFrom(time, from), firstRowFrom(time, to)];
}

export const withoutFlagged = (columns: RecordColumns): RecordColumns => byFlags(columns, (flags) => flags === 0);

/** The records that pass by their flags. */
export function byFlags(columns: RecordColumns, pass: (flags: number, row: number) => boolean): RecordColumns {
  const { flags } = columns;
  const rows = new Uint32Array(flags.length);
  let count = 0;
  for (let row = 0; row < flags.length; row++) if (pass(flags[row], row)) rows[count++] = row;
  if (count === flags.length) return columns;
  const take = (column: Float64Array) => {
    const taken = new Float64Array(count);
    for (let at = 0; at < count; at++) taken[at] = column[rows[at]];
    return taken;
  };
  return Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, take(column)])) as RecordColumns;
}

/** Stored columns of records as a table for programs. */
export function recordTable(tape: StoredTape, columns: ReadonlyMap<string, Float64Array>): Table {
  return recordColumns(tape).map(({ name, column, words }) => {
    const values = columns.get(column)!;
    if (words) return { name, kind: 'words', values, words };
    return { name, kind: name === 'time' ? 'instants' : 'numbers', values };
  });
}
