import {
  dateText,
  DAY,
  decimalsOf,
  GrowingColumn,
  HOUR,
  makeCalendar,
  MOST_DECIMALS,
  parseBarRule,
  pieces,
  printBarRule,
  rfc3339,
  SECOND,
  usualDecimals,
  type Calendar,
} from '@jaunty-ledger/core';
import { flagBit } from '../checks/checks.js';
import type { Findings } from '../checks/findings.js';
import { NEIGHBOURS, ORDERED_CHECKS, RecordChecks } from '../checks/recordChecks.js';
import type { TapeKind } from '../reading/reading.js';
import type { RecordColumns } from './recordColumns.js';
import { priceColumnOf, sizeColumnOf, type RecordSink } from './recordReader.js';

/** Records of a block, but for the last. */
export const RECORDS_AT_ONCE = 65_536;

/** Decimal places that write the values of a column, where they are known. */
export type Decimals = Record<string, number | undefined>;

/** Where the blocks of a tape's records go, in order. */
export interface RecordKeep {
  /** Takes a block, which is written over after this. */
  add(columns: RecordColumns): Promise<Decimals>;
  /** The blocks so far, once more. */
  read(): AsyncIterable<RecordColumns>;
  /** Drops the blocks, which are added again. A read in progress still returns them. */
  restart(): void;
}

/** What the writer finds out of a tape's records. */
export interface FoundInRecords {
  /** Length of bars. */
  interval: string | null;
  /** With trading, where they were inferred. */
  weekdays: string[] | null;
  rows: number;
  flagged: number;
  firstAt: number;
  lastAt: number;
  priceDecimals: number;
  sizeDecimals: number;
  /** Some prices, evenly thinned out. */
  spark: number[];
}

/** Rows that there is room for at first: a file may make many small tapes. */
const FIRST_ROWS = 4096;
/** Rows of the smallest chunk that is written early. */
const EARLY_ROWS = 4096;
/** Points of the small picture on the shelf. */
export const SPARK_POINTS = 60;

export interface WriterOptions {
  kind: TapeKind;
  calendar: Calendar;
  /** None yet: what is found in the records of this tape goes there, and to others like it. */
  findings: Findings;
  /** What the records' values are stored under, in the order in which they come; the first is the time. */
  columns: readonly string[];
  /** The instant of the import: what lies after it is in the future. */
  now: number;
  /** Called between stretches of long work; it may throw to stop. */
  goOn?: () => void;
}

/** Takes the records of one tape in, a block at a time, checks them, and hands them on. */
export class RecordWriter implements RecordSink {
  rows = 0;
  private filled = 0;
  private flagged = 0;
  private readonly disorder: Findings;
  /** What the checks have found that look at records in their order. */
  private ordered: Findings;
  /** Records that those have left out. */
  private leftOut: RecordColumns[] = [];
  private readonly names: string[];
  private chunk: Float64Array[];
  /** The latest time so far, and that of the line before; how often one was later, and earlier, than the line before it. */
  private latest = -Infinity;
  private previous = NaN;
  private rises = 0;
  private falls = 0;
  private shortestStep = Infinity;
  private priceDecimals = 0;
  private sizeDecimals = 0;
  private closes = new GrowingColumn(64);
  private firstAt = NaN;
  private lastAt = NaN;
  private checks: RecordChecks;
  private weekdays: string[] | null = null;

  constructor(
    private readonly options: WriterOptions,
    private readonly keep: RecordKeep,
  ) {
    this.names = [...options.columns, 'line', 'flags'];
    this.disorder = options.findings;
    this.ordered = this.disorder.anew();
    this.chunk = this.names.map(() => new Float64Array(FIRST_ROWS));
    this.checks = this.newChecks();
  }

  /** Names of the columns as they are stored. */
  get columns(): readonly string[] {
    return this.names;
  }

  /** What was found in the records of this tape. */
  get findings(): Findings {
    return this.disorder.with(this.ordered);
  }

  add(values: Float64Array, line: number, flags: number): void {
    if (this.filled === this.chunk[0].length) this.chunk = this.chunk.map(doubled);
    const { chunk } = this;
    const row = this.filled++;
    const count = values.length;
    for (let column = 0; column < count; column++) chunk[column][row] = values[column];
    chunk[count][row] = line;
    chunk[count + 1][row] = flags;
    this.follow(values, 1, line);
  }

  addRows(columns: readonly Float64Array[], rows: number, firstLine: number): void {
    while (this.filled + rows > this.chunk[0].length) this.chunk = this.chunk.map(doubled);
    const { chunk, filled } = this;
    const end = filled + rows;
    columns.forEach((column, index) => chunk[index].set(column.subarray(0, rows), filled));
    const [line, flags] = chunk.slice(columns.length);
    for (let row = filled; row < end; row++) line[row] = firstLine + row - filled;
    flags.fill(0, filled, end);
    this.filled = end;
    this.follow(columns[0], rows, firstLine);
  }

  /** Notes how the first `rows` of some times follow on what came before: their steps, and which of them go back. */
  private follow(time: Float64Array, rows: number, firstLine: number): void {
    let { latest, previous, rises, falls, shortestStep: shortest } = this;
    for (let row = 0; row < rows; row++) {
      if (time[row] > previous) rises++;
      else if (time[row] < previous) falls++;
      previous = time[row];
      const step = time[row] - latest;
      if (step < 0) {
        this.disorder.note(
          'out-of-order',
          firstLine + row,
          () => `${(-step / 1e6).toFixed(3)} s behind the one before`,
        );
        continue;
      }
      latest = time[row];
      if (step > 0 && step < shortest) shortest = step;
    }
    this.latest = latest;
    this.previous = previous;
    this.rises = rises;
    this.falls = falls;
    this.shortestStep = shortest;
  }

  /**
   * Writes the chunks that are full; their last rows wait for the neighbours after them. To be called between rows.
   * @param what  `early` writes a smaller chunk than usual too, where room is short; `rest` all that is there
   */
  async flush(what: 'full' | 'early' | 'rest' = 'full'): Promise<void> {
    let from = 0;
    const least = what === 'early' ? EARLY_ROWS : RECORDS_AT_ONCE;
    while (this.filled - from >= least + NEIGHBOURS || (what === 'rest' && this.filled > from)) {
      this.options.goOn?.();
      const spare = what === 'rest' ? 0 : NEIGHBOURS;
      const rows = Math.min(this.filled - from - spare, RECORDS_AT_ONCE);
      const seen = Math.min(this.filled, from + rows + NEIGHBOURS);
      await this.writeBlock(
        this.named((column) => column.subarray(from, seen)),
        rows,
      );
      from += rows;
    }
    if (from === 0) return;
    for (const column of this.chunk) column.copyWithin(0, from, this.filled);
    this.filled -= from;
  }

  /**
   * Writes what is left, sorted if need be. After it the tape can be imported.
   * @param infersWeekdays  whether weekdays without records are closed from now on
   */
  async finish({ infersWeekdays = false } = {}): Promise<void> {
    await this.flush('rest');
    if (this.disorder.countOf('out-of-order') > 0) await this.sort();
    if (infersWeekdays) await this.closeWeekdays();
    this.checks.finish();
  }

  /** Takes the weekdays from the records. The few that fall on a closed one are found like those on closed dates. */
  private async closeWeekdays(): Promise<void> {
    const { days } = this.checks;
    const weekdays = days.openDays();
    if (!weekdays) return;
    this.weekdays = weekdays;
    if (days.hasStrays) await this.checkStrays(weekdays);
  }

  /** Goes through the records once more, a block at a time: a long tape does not fit into memory. */
  private async checkStrays(weekdays: readonly string[]): Promise<void> {
    const { calendar, goOn } = this.options;
    const open = makeCalendar({ ...calendar.options, weekdays });
    const blocks = this.keep.read()[Symbol.asyncIterator]();
    let next = await blocks.next();
    this.restart();
    for (; !next.done; next = await blocks.next()) {
      goOn?.();
      const columns = next.value;
      const leftOut = flagStrays(columns, this.ordered, (date) => calendar.isOpen(date) && !open.isOpen(date), open);
      await this.keepBlock(
        leftOut ? mapColumns(columns, (column) => column.filter((_, row) => !leftOut[row])) : columns,
      );
    }
  }

  /** What the records have told, once it is finished. @param interval  of bars, where it is told */
  found(interval?: string): FoundInRecords {
    return {
      interval: this.options.kind === 'bars' ? (interval ?? intervalOf(this.shortestStep)) : null,
      weekdays: this.weekdays,
      rows: this.rows,
      flagged: this.flagged,
      firstAt: this.firstAt,
      lastAt: this.lastAt,
      priceDecimals: usualDecimals(this.closes.toArray(), Math.min(MOST_DECIMALS, this.priceDecimals)),
      sizeDecimals: Math.min(MOST_DECIMALS, this.sizeDecimals),
      spark: this.spark(),
    };
  }

  /** Bytes of records that wait for their chunk to be full. */
  get waitingBytes(): number {
    return this.filled * this.names.length * 8;
  }

  private newChecks(): RecordChecks {
    const { kind, calendar, now } = this.options;
    return new RecordChecks(kind, calendar, this.ordered, now);
  }

  private async writeBlock(seen: RecordColumns, rows: number): Promise<void> {
    const leftOut = this.checks.check(seen, rows);
    let columns = mapColumns(seen, (column) => column.subarray(0, rows));
    if (leftOut) {
      this.leftOut.push(mapColumns(columns, (column) => column.filter((_, row) => leftOut[row] === 1)));
      columns = mapColumns(columns, (column) => column.filter((_, row) => leftOut[row] === 0));
    }
    await this.keepBlock(columns);
  }

  /** Hands a block on, and counts it. */
  private async keepBlock(columns: RecordColumns): Promise<void> {
    if (columns.time.length === 0) return;
    const { kind } = this.options;
    const decimals = await this.keep.add(columns);
    const placesOf = (name: string, known: number) =>
      Math.max(known, decimals[name] ?? decimalsOf(columns[name], known));
    const price = columns[priceColumnOf(kind)];
    this.priceDecimals = placesOf(priceColumnOf(kind), this.priceDecimals);
    if (sizeColumnOf(kind) in columns) this.sizeDecimals = placesOf(sizeColumnOf(kind), this.sizeDecimals);
    if (Number.isNaN(this.firstAt)) this.firstAt = columns.time[0];
    this.lastAt = columns.time[columns.time.length - 1];
    const step = Math.max(1, Math.floor(price.length / SPARK_POINTS));
    for (let row = step - 1; row < price.length; row += step) this.closes.push(price[row]);
    for (const [from, to] of pieces(0, price.length)) this.flagged += flaggedIn(columns.flags, from, to);
    this.rows += columns.time.length;
  }

  /** All records once more, in order of time; those of one instant as they came. Only files out of order pay for it. */
  private async sort(): Promise<void> {
    const parts: RecordColumns[] = [];
    for await (const block of this.keep.read()) {
      this.options.goOn?.();
      parts.push(block);
    }
    // rejected records are checked again too: once sorted, they have other neighbours
    parts.push(...this.leftOut);
    const whole = mapColumns(parts[0], (_, name) => concatenated(parts.map((part) => part[name])));
    const { time, line } = whole;
    // a file that begins with its newest record has those of one instant the other way round too
    const isTurned = this.rises === 0 && this.falls > 1;
    if (isTurned) this.tellTurned(time[0], line[0]);
    const later = isTurned ? -1 : 1;
    const order = Uint32Array.from(time.keys()).sort((a, b) => time[a] - time[b] || later * (line[a] - line[b]));
    this.chunk = this.names.map((name) => Float64Array.from(order, (row) => whole[name][row]));
    // flags of single records stay; those that depend on the order are set anew
    const ordered = ORDERED_CHECKS.reduce((bits, id) => bits | flagBit(id), 0);
    const flags = this.chunk[this.chunk.length - 1];
    for (let row = 0; row < flags.length; row++) flags[row] &= ~ordered;
    this.filled = flags.length;
    // steps show only now where none led forward
    this.latest = -Infinity;
    this.follow(this.chunk[0], this.filled, 1);
    this.leftOut = [];
    this.ordered = this.ordered.begunAnew();
    this.checks = this.newChecks();
    this.restart();
    await this.flush('rest');
  }

  /** Forgets what was handed on, and its counts. */
  private restart(): void {
    this.rows = this.flagged = 0;
    this.firstAt = NaN;
    this.closes = new GrowingColumn(64);
    this.keep.restart();
  }

  private tellTurned(first: number, line: number): void {
    this.disorder.forget('out-of-order');
    this.disorder.note('newest-first', line, () => `it begins with ${rfc3339(first)}`);
  }

  private named(part: (column: Float64Array) => Float64Array): RecordColumns {
    return Object.fromEntries(this.names.map((name, index) => [name, part(this.chunk[index])])) as RecordColumns;
  }

  private spark(): number[] {
    const closes = this.closes.toArray();
    const points = Math.min(SPARK_POINTS, closes.length);
    return Array.from({ length: points }, (_, i) => closes[Math.floor(((i + 1) * closes.length) / points) - 1]);
  }
}

/**
 * Checks the records of a block that fall on days which are closed from now on, and sets their flags.
 * @returns  which rows are to be left out, if any
 */
function flagStrays(
  { time, line, flags }: RecordColumns,
  findings: Findings,
  isClosedNow: (date: number) => boolean,
  calendar: Calendar,
): Uint8Array | undefined {
  const treatment = findings.treatmentOf('closed-date');
  let leftOut: Uint8Array | undefined;
  let dayEndsAt = -Infinity;
  let date = NaN;
  let isClosed = false;
  for (let row = 0; row < time.length; row++) {
    if (time[row] >= dayEndsAt) {
      const day = calendar.dayAt(time[row]);
      dayEndsAt = day.endsAt;
      date = day.date;
      isClosed = isClosedNow(date);
    }
    if (!isClosed) continue;
    findings.note('closed-date', line[row], () => dateText(date));
    if (treatment === 'flag') flags[row] |= flagBit('closed-date');
    if (treatment !== 'leave-out') continue;
    findings.leaveOut(line[row], dateText(date));
    (leftOut ??= new Uint8Array(time.length))[row] = 1;
  }
  return leftOut;
}

function flaggedIn(flags: Float64Array, from: number, to: number): number {
  let count = 0;
  for (let row = from; row < to; row++) if (flags[row] !== 0) count++;
  return count;
}

/** The length of records that start so far apart at the least. A day may be an hour short where clocks change. */
function intervalOf(step: number): string {
  const isDay = step >= DAY - HOUR;
  const micros = Math.max(SECOND, step - (step % SECOND));
  return printBarRule({ ...parseBarRule('1 day'), ...(!isDay && { kind: { by: 'interval', micros } }) });
}

function mapColumns(columns: RecordColumns, part: (column: Float64Array, name: string) => Float64Array): RecordColumns {
  return Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, part(column, name)]),
  ) as RecordColumns;
}

function doubled(column: Float64Array): Float64Array<ArrayBuffer> {
  const wider = new Float64Array(2 * column.length);
  wider.set(column);
  return wider;
}

function concatenated(parts: Float64Array[]): Float64Array {
  const whole = new GrowingColumn(parts.reduce((sum, part) => sum + part.length, 0));
  for (const part of parts) whole.append(part);
  return whole.toArray();
}
