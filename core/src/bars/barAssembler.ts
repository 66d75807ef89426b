import type { Instant } from '../time/instant.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import type { TextColumns } from '../records/ticks.js';
import type { Records } from './records.js';

const COLUMNS = [...BAR_FIELDS, 'firstRecord', 'endRecord'] as const;

/** Columns of bars with room for so many; all of them fill together. */
type Columns = Record<(typeof COLUMNS)[number], Float64Array<ArrayBuffer>>;

const columnsFor = (room: number): Columns =>
  Object.fromEntries(COLUMNS.map((name) => [name, new Float64Array(room)])) as Columns;

const mapColumns = (columns: Columns, part: (column: Columns['time']) => Columns['time']): Columns =>
  Object.fromEntries(COLUMNS.map((name) => [name, part(columns[name])])) as Columns;

/** A text column of the bars, and what the last record of the current one carries. */
interface BarText {
  name: string;
  last: number;
  column: Float64Array<ArrayBuffer>;
}

/** A bar takes records in until one of these is reached. */
export interface Limits {
  volume: number;
  value: number;
  /** Distance of its highest and lowest price. */
  range: number;
}

export const NO_LIMITS: Limits = { volume: Infinity, value: Infinity, range: Infinity };

/**
 * Gathers records into bars, one bar after the other. The caller says where a bar opens and which stretch of records
 * goes in; the inner loops run over plain columns with everything in locals.
 */
export class BarAssembler {
  private columns = columnsFor(1024);
  private texts: BarText[] = [];
  private count = 0;
  private room = 1024;
  private isOpen = false;
  // none of these begins as a whole number: the engine would keep it as one, and make the code anew for every other
  private start: Instant = NaN;
  private end: Instant = NaN;
  private firstRecord = NaN;
  private endRecord = NaN;
  high = NaN;
  low = NaN;
  private open = NaN;
  private close = NaN;
  volume = NaN;
  value = NaN;
  private trades = NaN;
  private anySize = false;
  private anyValue = false;
  private anyTrades = false;

  /** Starts a bar; the one before is closed. */
  begin(start: Instant, end: Instant, firstRecord: number): void {
    this.finishBar();
    this.isOpen = true;
    this.start = start;
    this.end = end;
    this.firstRecord = this.endRecord = firstRecord;
    this.high = -Infinity;
    this.low = Infinity;
    this.open = this.close = NaN;
    this.volume = this.value = this.trades = 0;
    this.anySize = this.anyValue = this.anyTrades = false;
  }

  /**
   * Adds records [from, to) of a block to the current bar, up to the one with which it reaches a limit.
   * @param offset  index of the block's first record
   * @returns       the row after the last record that went in
   */
  add(records: Records, from: number, to: number, offset: number, limits: Limits = NO_LIMITS): number {
    const { open, high, low, close, size, value, trades } = records;
    let end: number;
    if (!size) end = this.addPrices(records, from, to, limits.range);
    else if (high === low && !value)
      end =
        limits === NO_LIMITS
          ? this.addAllTicks(high, size, from, to, records.priced)
          : this.addTicks(high, size, from, to, limits, records.priced);
    else end = this.addSized(records, size, from, to, limits);
    this.endRecord = offset + end;
    if (records.texts && end > from) this.addTexts(records.texts, end - 1);
    for (let row = from; this.open !== this.open && row < end; row++) this.open = open[row];
    for (let row = end - 1; row >= from; row--) {
      if (close[row] !== close[row]) continue;
      this.close = close[row];
      break;
    }
    if (trades) this.addTrades(trades, from, end);
    else {
      this.trades += end - from;
      this.anyTrades = true;
    }
    return end;
  }

  /** A running bar ends with its last record. */
  endAt(end: Instant): void {
    this.end = end;
  }

  /** Closes the last bar and gives them all. */
  finish(leftOut: number): BuiltBars {
    this.finishBar();
    const columns = mapColumns(this.columns, (column) => column.slice(0, this.count));
    const texts = this.texts.map(({ name, column }) => [name, column.slice(0, this.count)] as const);
    return {
      ...columns,
      complete: new Uint8Array(this.count).fill(1),
      leftOut,
      ...(texts.length > 0 && { texts: Object.fromEntries(texts) }),
    };
  }

  private addTexts(texts: TextColumns, lastRow: number): void {
    if (this.texts.length === 0)
      this.texts = Object.keys(texts).map((name) => ({ name, last: NaN, column: new Float64Array(this.room) }));
    for (const text of this.texts) text.last = texts[text.name][lastRow];
  }

  private addPrices({ high, low }: Records, from: number, to: number, range: number): number {
    let { high: highest, low: lowest } = this;
    let row = from;
    while (row < to) {
      if (high[row] > highest) highest = high[row];
      if (low[row] < lowest) lowest = low[row];
      row++;
      if (highest - lowest >= range) break;
    }
    this.high = highest;
    this.low = lowest;
    return row;
  }

  /** What `addTicks` does without limits, for bars by time: a third less to do for each trade. */
  private addAllTicks(price: Float64Array, size: Float64Array, from: number, to: number, priced: boolean): number {
    let { high: highest, low: lowest, volume, value: traded } = this;
    let unknown = 0;
    let unpriced = 0;
    for (let row = from; row < to; row++) {
      const at = price[row];
      const units = size[row];
      const worth = units * at;
      if (at > highest) highest = at;
      if (at < lowest) lowest = at;
      if (worth === worth) {
        volume += units;
        traded += worth;
      } else if (units === units) {
        volume += units;
        unpriced++;
      } else unknown++;
    }
    this.high = highest;
    this.low = lowest;
    this.volume = volume;
    this.value = traded;
    const known = to - from - unknown;
    if (known > 0) this.anySize = true;
    if (known > unpriced && priced) this.anyValue = true;
    return to;
  }

  /** What `addSized` does, for records that have one price and no value of their own: the most frequent ones by far. */
  private addTicks(
    price: Float64Array,
    size: Float64Array,
    from: number,
    to: number,
    limits: Limits,
    priced: boolean,
  ): number {
    const { volume: volumeLimit, value: valueLimit, range: rangeLimit } = limits;
    let { high: highest, low: lowest, volume, value: traded } = this;
    let unknown = 0;
    let unpriced = 0;
    let row = from;
    while (row < to) {
      const at = price[row];
      const units = size[row];
      const worth = units * at;
      row++;
      if (at > highest) highest = at;
      if (at < lowest) lowest = at;
      if (worth === worth) {
        volume += units;
        traded += worth;
      } else if (units === units) {
        volume += units;
        unpriced++;
      } else unknown++;
      if (volume >= volumeLimit || traded >= valueLimit || highest - lowest >= rangeLimit) break;
    }
    this.high = highest;
    this.low = lowest;
    this.volume = volume;
    this.value = traded;
    const known = row - from - unknown;
    if (known > 0) this.anySize = true;
    if (known > unpriced && priced) this.anyValue = true;
    return row;
  }

  /** Everything in one pass: a running bar may hold no more than a few records, and each pass costs something to begin. */
  private addSized(
    { high, low, close, value, priced }: Records,
    size: Float64Array,
    from: number,
    to: number,
    limits: Limits,
  ): number {
    let { high: highest, low: lowest, volume, value: traded } = this;
    let known = 0;
    let valued = 0;
    let row = from;
    while (row < to) {
      const units = size[row];
      if (high[row] > highest) highest = high[row];
      if (low[row] < lowest) lowest = low[row];
      // unknown sizes are passed over
      if (units === units) {
        const worth = value ? value[row] : units * close[row];
        volume += units;
        known++;
        if (worth === worth) {
          traded += worth;
          valued++;
        }
      }
      row++;
      if (volume >= limits.volume || traded >= limits.value || highest - lowest >= limits.range) break;
    }
    this.high = highest;
    this.low = lowest;
    this.volume = volume;
    this.value = traded;
    if (known > 0) this.anySize = true;
    if (valued > 0 && priced) this.anyValue = true;
    return row;
  }

  private addTrades(trades: Float64Array, from: number, to: number): void {
    for (let row = from; row < to; row++) {
      if (trades[row] !== trades[row]) continue;
      this.trades += trades[row];
      this.anyTrades = true;
    }
  }

  private finishBar(): void {
    if (!this.isOpen) return;
    this.isOpen = false;
    if (this.count === this.room) this.makeRoom();
    const { columns } = this;
    const row = this.count++;
    const volume = this.anySize ? this.volume : NaN;
    const value = this.anyValue ? this.value : NaN;
    columns.time[row] = this.start;
    columns.end[row] = this.end;
    columns.open[row] = this.open;
    columns.high[row] = this.high === -Infinity ? NaN : this.high;
    columns.low[row] = this.low === Infinity ? NaN : this.low;
    columns.close[row] = this.close;
    columns.volume[row] = volume;
    columns.value[row] = value;
    columns.vwap[row] = volume > 0 ? value / volume : NaN;
    columns.trades[row] = this.anyTrades ? this.trades : NaN;
    columns.firstRecord[row] = this.firstRecord;
    columns.endRecord[row] = this.endRecord;
    for (const { column, last } of this.texts) column[row] = last;
  }

  private makeRoom(): void {
    this.room *= 2;
    const wider = columnsFor(this.room);
    for (const name of COLUMNS) wider[name].set(this.columns[name]);
    this.columns = wider;
    for (const text of this.texts) {
      const column = new Float64Array(this.room);
      column.set(text.column);
      text.column = column;
    }
  }
}
