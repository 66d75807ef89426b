import type { Instant } from '../time/instant.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import type { TextColumns } from '../records/ticks.js';
import type { Records } from './records.js';

const COLUMNS = [...BAR_FIELDS, 'firstRecord', 'endRecord'] as const;

type Columns = Record<(typeof COLUMNS)[number], Float64Array<ArrayBuffer>>;

/**
 * Bars are gathered in blocks of so many, which are put together at the end: columns that grow by being copied take memory
 * several times over, and that takes longer than all the rest where a bar holds a few records.
 */
const BLOCK_BARS = 4096;

/** Columns of so many bars, which fill together; text columns in the order of their names. */
interface Block {
  columns: Columns;
  texts: Float64Array[];
}

/** A text column of the bars, and what the last record of the current one carries. */
interface BarText {
  name: string;
  last: number;
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
  private readonly full: Block[] = [];
  private block = newBlock(0);
  /** Bars in the current block. */
  private count = 0;
  /** Not known before the first record. */
  private texts: BarText[] | undefined;
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
    else if (high === low && !value) end = this.addTicks(high, size, from, to, limits, records.priced);
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
    const count = this.full.length * BLOCK_BARS + this.count;
    const blocks = [...this.full, this.block];
    const together = (columnOf: (block: Block) => Float64Array): Float64Array => {
      const whole = new Float64Array(count);
      blocks.forEach((block, index) => {
        const first = index * BLOCK_BARS;
        whole.set(columnOf(block).subarray(0, count - first), first);
      });
      return whole;
    };
    const columns = COLUMNS.map((name) => [name, together((block) => block.columns[name])] as const);
    const texts = (this.texts ?? []).map(({ name }, index) => [name, together((block) => block.texts[index])] as const);
    return {
      ...(Object.fromEntries(columns) as Columns),
      complete: new Uint8Array(count).fill(1),
      leftOut,
      ...(texts.length > 0 && { texts: Object.fromEntries(texts) }),
    };
  }

  private addTexts(texts: TextColumns, lastRow: number): void {
    if (!this.texts) {
      this.texts = Object.keys(texts).map((name) => ({ name, last: NaN }));
      this.block = newBlock(this.texts.length); // the first bar is not in it yet
    }
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
    const isLimited = limits !== NO_LIMITS;
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
      if (isLimited && (volume >= volumeLimit || traded >= valueLimit || highest - lowest >= rangeLimit)) break;
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
    if (this.count === BLOCK_BARS) {
      this.full.push(this.block);
      this.block = newBlock(this.block.texts.length);
      this.count = 0;
    }
    const { columns, texts } = this.block;
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
    for (let text = 0; text < texts.length; text++) texts[text][row] = this.texts![text].last;
  }
}

const newBlock = (texts: number): Block => ({
  columns: Object.fromEntries(COLUMNS.map((name) => [name, new Float64Array(BLOCK_BARS)])) as Columns,
  texts: Array.from({ length: texts }, () => new Float64Array(BLOCK_BARS)),
});
