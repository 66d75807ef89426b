import {
  DAY,
  decimalsOf,
  GrowingColumn,
  HOUR,
  MOST_DECIMALS,
  parseBarRule,
  printBarRule,
  SECOND,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { TapeKind } from '$lib/api/tapes';
import { CHUNK_ROWS, decodeChunk, encodeChunk, type RecordColumns } from '../chunks/tapeChunk';
import type { Store } from '../store/connection';
import { insertChunk } from '../store/chunks';
import { findTape, insertTape, type NewTape } from '../store/tapes';
import type { RecordSink } from './delimitedReader';
import { priceColumnOf, sizeColumnOf } from './recordKinds';
import type { TapeSpool } from './tapeSpool';

/** What the writer finds out of a tape's records; the rest of its row is told. */
type Found = 'interval' | 'rows' | 'firstAt' | 'lastAt' | 'columns' | 'priceDecimals' | 'sizeDecimals' | 'spark';

/** Points of the small picture on the shelf. */
const SPARK_POINTS = 60;

/** Takes records in, a chunk at a time, and enters them as one tape. */
export class TapeWriter implements RecordSink {
  rows = 0;
  outOfOrder = 0;
  private filled = 0;
  private chunk: Float64Array[] = [];
  private lastTime = -Infinity;
  private shortestStep = Infinity;
  private priceDecimals = 0;
  private sizeDecimals = 0;
  private closes = new GrowingColumn(64);
  private firstAt = NaN;

  constructor(
    private readonly kind: TapeKind,
    private readonly spool: TapeSpool,
    /** Asked once the first record comes. */
    private readonly columns: () => string[],
  ) {}

  add(values: Float64Array): void {
    if (this.chunk.length === 0) this.chunk = this.columns().map(() => new Float64Array(2 * CHUNK_ROWS));
    const { chunk } = this;
    if (this.filled === chunk[0].length) this.chunk = chunk.map((column) => doubled(column));
    const row = this.filled++;
    for (let column = 0; column < chunk.length; column++) this.chunk[column][row] = values[column];
    if (values[0] < this.lastTime) this.outOfOrder++;
    else {
      const step = values[0] - this.lastTime;
      if (step > 0 && step < this.shortestStep) this.shortestStep = step;
      this.lastTime = values[0];
    }
    this.rows++;
  }

  /** Writes the chunks that are full. To be called between pushes, not within a row. */
  async flush(rest = false): Promise<void> {
    let from = 0;
    while (this.filled - from >= CHUNK_ROWS || (rest && this.filled > from)) {
      const to = Math.min(this.filled, from + CHUNK_ROWS);
      await this.writeChunk(this.named((column) => column.subarray(from, to)));
      from = to;
    }
    if (from === 0) return;
    for (const column of this.chunk) column.copyWithin(0, from, this.filled);
    this.filled -= from;
  }

  /**
   * Enters the tape and its chunks in one transaction.
   * @throws {Refusal} where a tape of the name is there already
   */
  async enter(db: Store, facts: Omit<NewTape, Found>, interval?: string): Promise<number> {
    await this.flush(true);
    if (this.outOfOrder > 0) await this.sort();
    const tape: NewTape = {
      ...facts,
      interval: this.kind === 'bars' ? (interval ?? intervalOf(this.shortestStep)) : null,
      rows: this.rows,
      firstAt: this.firstAt,
      lastAt: this.lastTime,
      columns: this.columns(),
      priceDecimals: Math.min(MOST_DECIMALS, this.priceDecimals),
      sizeDecimals: Math.min(MOST_DECIMALS, this.sizeDecimals),
      spark: this.spark(),
    };
    return db.transaction(async (transaction) => {
      if (await findTape(transaction, tape.name))
        throw refuse(
          'name-taken',
          `A tape is called ${tape.name} already. Choose another name, or delete that tape first.`,
        );
      const id = await insertTape(transaction, tape);
      let sequence = 0;
      for await (const chunk of this.spool.read()) await insertChunk(transaction, id, sequence++, chunk);
      return id;
    });
  }

  private async writeChunk(columns: RecordColumns): Promise<void> {
    const price = columns[priceColumnOf(this.kind)];
    const size = columns[sizeColumnOf(this.kind)];
    this.priceDecimals = decimalsOf(price, this.priceDecimals);
    if (size) this.sizeDecimals = decimalsOf(size, this.sizeDecimals);
    if (Number.isNaN(this.firstAt)) this.firstAt = columns.time[0];
    const step = Math.max(1, Math.floor(price.length / SPARK_POINTS));
    for (let row = step - 1; row < price.length; row += step) this.closes.push(price[row]);
    await this.spool.add(encodeChunk(columns, priceColumnOf(this.kind)));
  }

  /** All records once more, in order of time; those of one instant as they came. Only files out of order pay for it. */
  private async sort(): Promise<void> {
    const parts: RecordColumns[] = [];
    for await (const chunk of this.spool.read()) parts.push(decodeChunk(chunk));
    const names = Object.keys(parts[0]);
    const whole = Object.fromEntries(
      names.map((name) => [name, concatenated(parts.map((part) => part[name]))]),
    ) as RecordColumns;
    const order = Uint32Array.from({ length: this.rows }, (_, row) => row).sort(
      (a, b) => whole.time[a] - whole.time[b] || a - b,
    );
    this.chunk = names.map((name) => Float64Array.from(order, (row) => whole[name][row]));
    this.filled = this.rows;
    this.firstAt = NaN;
    this.closes = new GrowingColumn(64);
    await this.spool.restart();
    await this.flush(true);
  }

  private named(part: (column: Float64Array) => Float64Array): RecordColumns {
    return Object.fromEntries(this.columns().map((name, index) => [name, part(this.chunk[index])])) as RecordColumns;
  }

  private spark(): number[] {
    const closes = this.closes.toArray();
    const points = Math.min(SPARK_POINTS, closes.length);
    return Array.from({ length: points }, (_, i) => closes[Math.floor(((i + 1) * closes.length) / points) - 1]);
  }
}

/** The length of records that start so far apart at the least. A day may be an hour short where clocks change. */
function intervalOf(step: number): string {
  const isDay = step >= DAY - HOUR;
  const micros = Math.max(SECOND, step - (step % SECOND));
  return printBarRule({ ...parseBarRule('1 day'), ...(!isDay && { kind: { by: 'interval', micros } }) });
}

function doubled(column: Float64Array): Float64Array {
  const wider = new Float64Array(2 * column.length);
  wider.set(column);
  return wider;
}

function concatenated(parts: Float64Array[]): Float64Array {
  const whole = new GrowingColumn(parts.reduce((sum, part) => sum + part.length, 0));
  for (const part of parts) whole.append(part);
  return whole.toArray();
}
