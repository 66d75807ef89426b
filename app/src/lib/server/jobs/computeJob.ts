import {
  BarBuilder,
  BAR_FIELDS,
  coveringRange,
  evaluate,
  firstRowFrom,
  makeCalendar,
  parseBarRule,
  planEntries,
  printBarRule,
  refuseFinerThan,
  takenBy,
  GrowingColumn,
  type Bars,
  type BuiltBars,
  type Frame,
} from '@jaunty-ledger/core';
import { join, resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { withoutCalendar } from '$lib/api/checks';
import { barTexts, calendarOptions } from '$lib/api/tapes';
import { askingThread } from '$lib/compute/otherThread';
import { INSTANTS, type ColumnTable } from '$lib/arrow/table';
import { DecodeRoom, type RecordColumns } from '../chunks/tapeChunk';
import { writeTable } from '../files/tableWriter';
import { problemOf } from '../problem';
import { settings } from '../settings';
import { chunkOfRow, chunksBetween, recordsIn, rowsInChunksBefore } from '../store/chunks';
import { connect } from '../store/connection';
import { listTapes, type StoredTape } from '../store/tapes';
import { recordsOfBar } from './barRecords';
import { changeTape } from './changeTape';
import { summaryOf } from './summary';
import type { ComputeResult, ComputeTask, Range } from './computeProtocol';

/* A thread of the pool: records out of the store, bars and columns out of records, bytes out of those. */

const db = connect(settings.JAUNTY_DATA);

let helper: Worker | undefined;
/** A second thread, from when it is first needed on. */
const other = askingThread((order) => {
  helper ??= new Worker(join(resolve(settings.JAUNTY_JOBS), 'hurstJob.js'));
  helper.postMessage(order);
});

/** Bars that were built last, for requests that ask for other columns or another stretch of the same. */
const kept = new Map<string, BuiltBars>();
const KEPT_BARS = 4;

export default async function run(task: ComputeTask): Promise<ComputeResult> {
  try {
    return { body: await answer(task) };
  } catch (error) {
    return { problem: problemOf(error) };
  }
}

async function answer(task: ComputeTask): Promise<Uint8Array> {
  const { tape, range, format } = task;
  switch (task.kind) {
    case 'records': {
      const { table, more, offset } = task.flagged
        ? await flaggedTable(tape, range, task.limit, task.flagged, task.offset)
        : await recordsTable(tape, range, task.limit, task.offset);
      return writeTable(table, format, { tape: tape.name, more, offset });
    }
    case 'barRecords': {
      const { table, more } = await barRecordsTable(tape, task);
      return writeTable(table, format, { tape: tape.name, more });
    }
    case 'bars': {
      const { bars, rule } = await barsOf(tape, task.rule, task.flagged, range);
      return writeTable(barTable(tape, bars, range), format, { tape: tape.name, rule, leftOut: bars.leftOut });
    }
    case 'columns': {
      const { bars, rule } = await barsOf(tape, task.rule, task.flagged);
      const calendar = makeCalendar(calendarOptions(tape));
      const frame = { ...frameOf(bars), rule, calendar };
      const results = evaluate(task.entries, { ...frame, others: await otherFrames(task) }, { other });
      const table = barTable(tape, bars, range);
      const [first, end] = rowsWithin(bars.time, range);
      for (const { name, values } of results) table.columns[name] = values.subarray(first, end);
      if (task.complete)
        keepComplete(
          table,
          results.map(({ name }) => name),
        );
      const looksAhead = results.filter((column) => column.looksAhead).map(({ name }) => name);
      return writeTable(table, format, { tape: tape.name, rule, looksAhead });
    }
    case 'summary':
      return new TextEncoder().encode(JSON.stringify(await summaryOf(tape, recordsBetween(tape, range))));
    case 'change':
      await db.transaction((transaction) => changeTape(transaction, tape, task.change, Date.now() * 1000));
      return new Uint8Array(0);
    default:
      return task satisfies never;
  }
}

/** Leaves the rows out on which one of the named columns has no value. */
function keepComplete({ columns }: ColumnTable, names: readonly string[]): void {
  const needed = names.map((name) => columns[name]);
  const [some] = Object.values(columns);
  const isKept = Uint8Array.from(some, (_, row) => (needed.every((column) => !Number.isNaN(column[row])) ? 1 : 0));
  for (const [name, column] of Object.entries(columns))
    columns[name] = column.filter((_: number, row: number) => isKept[row] === 1) as typeof column;
}

const WHOLE: Range = { from: -Infinity, to: Infinity };

/** Bars of a tape; where a range is asked for, perhaps only those in it and some about it. */
async function barsOf(
  tape: StoredTape,
  text: string,
  flagged: boolean,
  wanted = WHOLE,
): Promise<{ bars: BuiltBars; rule: string }> {
  const parsed = parseBarRule(text);
  const rule = printBarRule(parsed);
  const key = JSON.stringify([tape.id, tape.version, rule, flagged]);
  let bars = kept.get(key);
  if (!bars) {
    const calendar = makeCalendar(calendarOptions(tape));
    const covering = coveringRange(parsed, calendar, wanted) ?? WHOLE;
    const builder = new BarBuilder(parsed, calendar);
    const without = flagged ? ['line', 'flags'] : ['line'];
    for await (const columns of recordsBetween(tape, covering, 0, without, new DecodeRoom())) {
      const block = blockOf(tape, within(flagged ? columns : withoutFlagged(columns), covering));
      if ('open' in block) refuseFinerThan(block, parsed);
      builder.add(block);
    }
    bars = builder.finish();
    if (covering.from !== -Infinity || covering.to !== Infinity) return { bars: completeByTape(bars, tape), rule };
  }
  kept.delete(key); // what was asked for last is kept longest
  kept.set(key, bars);
  for (const oldest of kept.keys()) if (kept.size > KEPT_BARS) kept.delete(oldest);
  return { bars, rule };
}

/** The records of a block that lie in a range. */
function within(columns: RecordColumns, range: Range): RecordColumns {
  const [first, end] = rowsWithin(columns.time, range);
  if (first === 0 && end === columns.time.length) return columns;
  return Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.subarray(first, end)]),
  ) as RecordColumns;
}

/** A stretch of bars is complete by what the whole tape covers, not by where the stretch was cut. */
function completeByTape(bars: BuiltBars, tape: StoredTape): BuiltBars {
  const [coveredTo] = tape.kind === 'bars' ? endsOf(tape, Float64Array.of(tape.lastAt)) : [tape.lastAt];
  const complete = Uint8Array.from(bars.time, (start, row) =>
    start < tape.firstAt || bars.end[row] > coveredTo ? 0 : 1,
  );
  return { ...bars, complete };
}

async function* recordsBetween(
  tape: StoredTape,
  { from, to }: Range,
  fromSequence = 0,
  without: readonly string[] = [],
  room?: DecodeRoom,
): AsyncGenerator<RecordColumns> {
  for await (const chunk of chunksBetween(db, tape.id, from, to, fromSequence))
    yield recordsIn(tape, chunk, without, room);
}

const withoutFlagged = (columns: RecordColumns) => byFlags(columns, (flags) => flags === 0);

/** The records that pass by their flags. */
function byFlags(columns: RecordColumns, pass: (flags: number, row: number) => boolean): RecordColumns {
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

/** Stored columns as the core takes them. */
function blockOf(tape: StoredTape, columns: RecordColumns) {
  const names = [...barTexts(tape)];
  const texts =
    names.length > 0 ? Object.fromEntries(names.map(([name, column]) => [name, columns[column]])) : undefined;
  if (tape.kind === 'ticks' || tape.kind === 'series') {
    const side = columns.side && Int8Array.from(columns.side);
    return { time: columns.time, price: columns.price, size: columns.size, side, texts };
  }
  if (tape.kind === 'quotes') return { time: columns.time, bid: columns.bid, ask: columns.ask, texts };
  const { time, open, high, low, close, volume, trades } = columns;
  const missing = () => new Float64Array(time.length).fill(NaN);
  const bars: Bars = {
    time,
    end: endsOf(tape, time),
    open,
    high,
    low,
    close,
    volume: volume ?? missing(),
    value: columns.value ?? missing(),
    vwap: missing(),
    trades: trades ?? missing(),
    complete: new Uint8Array(time.length).fill(1),
    texts,
  };
  return bars;
}

/** Records of a tape of bars end after its interval; those of a day with the session. */
function endsOf(tape: StoredTape, time: Float64Array): Float64Array {
  const { kind } = parseBarRule(tape.interval!);
  if (kind.by === 'interval') return time.map((start) => start + kind.micros);
  const calendar = makeCalendar(calendarOptions(tape));
  return time.map((start) => calendar.dayAt(start).closesAt);
}

/** Bars as formulas see them. */
function frameOf(bars: Bars): Frame {
  const { time, end, ...columns } = doublesOf(bars);
  return { time, end, columns, texts: bars.texts };
}

/** Bars of the other tapes that the entries read, on the same rule. */
async function otherFrames(task: Extract<ComputeTask, { kind: 'columns' }>): Promise<Record<string, Frame>> {
  const names = BAR_FIELDS.filter((field) => field !== 'time' && field !== 'end');
  const tapes = (await listTapes(db)).filter(({ id }) => id !== task.tape.id);
  const others = new Map(tapes.map(({ name }) => [name, new Set<string>(names)]));
  const texts = barTexts(task.tape).keys();
  const read = new Set(planEntries(task.entries, { columns: names, texts, others }).flatMap((plan) => plan.tapes));
  const frames: Record<string, Frame> = {};
  for (const tape of tapes)
    if (read.has(tape.name)) frames[tape.name] = frameOf((await barsOf(tape, task.rule, task.flagged)).bars);
  return frames;
}

function doublesOf(bars: Bars): Record<string, Float64Array> {
  return Object.fromEntries(BAR_FIELDS.map((field) => [field, bars[field]]));
}

function barTable(tape: StoredTape, bars: Bars, range: Range): ColumnTable {
  const [first, end] = rowsWithin(bars.time, range);
  const columns: ColumnTable['columns'] = {};
  for (const field of BAR_FIELDS) columns[field] = bars[field].subarray(first, end);
  columns.complete = bars.complete.subarray(first, end);
  const words: Record<string, readonly string[]> = {};
  for (const [name, column] of barTexts(tape)) {
    columns[name] = bars.texts?.[name]?.subarray(first, end) ?? new Float64Array(end - first).fill(NaN);
    words[name] = tape.words[column];
  }
  return { columns, instants: INSTANTS, words };
}

/** The rows whose time lies in [from, to), as [first, end). */
function rowsWithin(time: Float64Array, { from, to }: Range): [number, number] {
  return [firstRowFrom(time, from), firstRowFrom(time, to)];
}

/** Records of a range, or from a row on; `offset` is the row of the first. */
async function recordsTable(tape: StoredTape, range: Range, limit: number, from: number | undefined) {
  const out = Object.fromEntries(tape.columns.map((name) => [name, new GrowingColumn(1024)]));
  const start = from === undefined ? undefined : await chunkOfRow(db, tape.id, from);
  let skip = from === undefined ? 0 : from - (start?.firstRow ?? from);
  let offset = from ?? (await rowsInChunksBefore(db, tape.id, range.from));
  let rows = 0;
  const firstChunk = from === undefined ? 0 : (start?.sequence ?? Infinity);
  for await (const columns of recordsBetween(tape, range, firstChunk)) {
    const [firstInRange, end] = rowsWithin(columns.time, range);
    if (rows === 0 && from === undefined) offset += firstInRange;
    const first = Math.max(firstInRange, skip);
    skip = 0;
    const taken = Math.min(end - first, limit - rows);
    for (const name of tape.columns) out[name].append(columns[name].subarray(first, first + taken));
    rows += taken;
    if (rows === limit) break;
  }
  const columns = Object.fromEntries(Object.entries(out).map(([name, column]) => [name, column.toArray()]));
  const table: ColumnTable = { columns, instants: INSTANTS, words: tape.words };
  return { table, more: rows === limit && offset + rows < tape.rows, offset };
}

/** The records that one bar is made of. */
async function barRecordsTable(tape: StoredTape, task: Extract<ComputeTask, { kind: 'barRecords' }>) {
  const { flagged, row, limit } = task;
  const { bars } = await barsOf(tape, task.rule, flagged);
  const rule = parseBarRule(task.rule);
  // where all records go into bars those before can be counted without being read
  const takesAll = flagged && !rule.side && tape.kind !== 'bars';
  const start = takesAll ? await chunkOfRow(db, tape.id, bars.firstRecord[row] ?? 0) : undefined;
  const blocks = async function* () {
    for await (const all of recordsBetween(tape, WHOLE, start?.sequence)) {
      const columns = flagged ? all : withoutFlagged(all);
      yield { columns, takes: takenBy(rule, blockOf(tape, columns)) };
    }
  };
  const { columns, more } = await recordsOfBar(
    blocks(),
    tape.columns,
    bars,
    { row, limit, firstRow: start?.firstRow ?? 0 },
    rule.allHours ? undefined : makeCalendar(calendarOptions(tape)),
  );
  const table: ColumnTable = { columns, instants: INSTANTS, words: tape.words };
  return { table, more };
}

/** The flagged records of a range, the first of them from a row on; and the row of that one among all of the tape. */
async function flaggedTable(
  tape: StoredTape,
  range: Range,
  limit: number,
  flagged: 'only' | 'in-session',
  fromRow = 0,
) {
  const out = Object.fromEntries(tape.columns.map((name) => [name, new GrowingColumn(64)]));
  const start = await chunkOfRow(db, tape.id, fromRow);
  let before = Math.max(start?.firstRow ?? 0, await rowsInChunksBefore(db, tape.id, range.from));
  let rows = 0;
  let offset = 0;
  for await (const columns of recordsBetween(tape, range, start?.sequence ?? Infinity)) {
    const [first, end] = rowsWithin(columns.time, range);
    const isWanted = (flags: number, row: number) =>
      row >= first &&
      row < end &&
      before + row >= fromRow &&
      (flagged === 'only' ? flags : withoutCalendar(flags)) !== 0;
    const found = byFlags(columns, isWanted);
    const taken = Math.min(found.time.length, limit - rows);
    for (const name of tape.columns) out[name].append(found[name].subarray(0, taken));
    if (rows === 0 && taken > 0) offset = before + columns.flags.findIndex(isWanted);
    rows += taken;
    before += columns.time.length;
    if (rows === limit) break;
  }
  const columns = Object.fromEntries(Object.entries(out).map(([name, column]) => [name, column.toArray()]));
  return {
    table: { columns, instants: INSTANTS, words: tape.words } satisfies ColumnTable,
    more: rows === limit,
    offset,
  };
}
