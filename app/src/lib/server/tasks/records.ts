import { GrowingColumn } from '@jaunty-ledger/core';
import { withoutCalendar } from '@jaunty-ledger/files/checks/checks';
import { writeTable, type TableWriting } from '@jaunty-ledger/files/tables/tableWriter';
import { recordColumns } from '@jaunty-ledger/files/records/textColumns';
import { partOfRow, rowsBefore } from '../store/chunks';
import type { StoredTape } from '../store/tapeRows';
import { byFlags, recordsBetween, recordTable, rowsWithin } from './tapeRecords';
import { recordsInRange, type Range } from './range';
import type { TaskKind, Tools } from './taskKind';

interface RecordsInput {
  tape: StoredTape;
  range: Range;
  limit: number;
  /** Row to begin with, instead of the range's beginning. */
  offset?: number;
  /** Only flagged ones, or only those flagged for more than their hour. */
  flagged?: 'only' | 'in-session';
  writing: TableWriting;
}

interface Page {
  columns: Map<string, Float64Array>;
  more: boolean;
  /** Row of the first among all of the tape. */
  offset: number;
}

/** A page of records as they were entered. */
export const records: TaskKind<RecordsInput> = {
  // flagged ones are looked for, perhaps through all of them
  records: ({ tape, range, limit, flagged }) => (flagged ? recordsInRange(tape, range) : limit),
  run: async (input, tools) => {
    const { tape, writing } = input;
    const { columns, more, offset } = await (input.flagged ? flaggedPage : page)(input, tools);
    const about = { tape: tape.name, version: tape.version, more, offset };
    return writeTable(recordTable(tape, columns), { ...writing, about, goOn: tools.course.goOn });
  },
};

/** Columns of records that grow a stretch at a time. */
class Gathered {
  private readonly columns: Map<string, GrowingColumn>;

  constructor(tape: StoredTape) {
    this.columns = new Map(recordColumns(tape).map(({ column }) => [column, new GrowingColumn(1024)]));
  }

  add(block: Record<string, Float64Array>, first: number, end: number): void {
    for (const [name, column] of this.columns) column.append(block[name].subarray(first, end));
  }

  toColumns(): Map<string, Float64Array> {
    return new Map([...this.columns].map(([name, column]) => [name, column.toArray()]));
  }
}

/** Records of a range, or from a row on. */
async function page({ tape, range, limit, offset: from }: RecordsInput, { store, course }: Tools): Promise<Page> {
  const gathered = new Gathered(tape);
  const start = from === undefined ? undefined : await store.read((rows) => partOfRow(rows, tape, from));
  let skip = from === undefined ? 0 : from - (start?.firstRow ?? from);
  let offset = from ?? (await store.read((rows) => rowsBefore(rows, tape, range.from)));
  let count = 0;
  const fromSequence = from === undefined ? 0 : (start?.sequence ?? Infinity);
  for await (const columns of recordsBetween(store, tape, range, { fromSequence, course })) {
    const [firstInRange, end] = rowsWithin(columns.time, range);
    if (count === 0 && from === undefined) offset += firstInRange;
    const first = Math.max(firstInRange, skip);
    skip = 0;
    const taken = Math.min(end - first, limit - count);
    gathered.add(columns, first, first + taken);
    count += taken;
    if (count === limit) break;
  }
  return { columns: gathered.toColumns(), more: count === limit && offset + count < tape.rows, offset };
}

/** The flagged records of a range, the first of them from a row on. */
async function flaggedPage(
  { tape, range, limit, flagged, offset: fromRow = 0 }: RecordsInput,
  { store, course }: Tools,
): Promise<Page> {
  const gathered = new Gathered(tape);
  const [start, earlier] = await store.read(async (rows) => [
    await partOfRow(rows, tape, fromRow),
    await rowsBefore(rows, tape, range.from),
  ]);
  let before = Math.max(start?.firstRow ?? 0, earlier);
  let count = 0;
  let offset = 0;
  const fromSequence = start?.sequence ?? Infinity;
  for await (const columns of recordsBetween(store, tape, range, { fromSequence, course })) {
    const [first, end] = rowsWithin(columns.time, range);
    const isWanted = (flags: number, row: number) =>
      row >= first &&
      row < end &&
      before + row >= fromRow &&
      (flagged === 'only' ? flags : withoutCalendar(flags)) !== 0;
    const found = byFlags(columns, isWanted);
    const taken = Math.min(found.time.length, limit - count);
    gathered.add(found, 0, taken);
    if (count === 0 && taken > 0) offset = before + columns.flags.findIndex(isWanted);
    count += taken;
    before += columns.time.length;
    if (count === limit) break;
  }
  return { columns: gathered.toColumns(), more: count === limit, offset };
}
