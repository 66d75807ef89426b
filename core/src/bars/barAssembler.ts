import type { Instant } from '../time/instant.js';
import type { Take } from './barKind.js';
import { BarColumns } from './barColumns.js';
import type { BuiltBars } from './bars.js';
import { BuildCourse } from './buildCourse.js';
import type { Records } from './records.js';

/** What fills a bar. A class, since the engine takes the fields of one for doubles in every loop. */
export class Limits {
  trades = Infinity;
  volume = Infinity;
  value = Infinity;
  /** Distance of its highest and lowest price. */
  range = Infinity;
}

/** Short of `near` a bar takes more records in, from `sure` on it is full; in between its caller has to say. */
export interface FillLimits {
  near: Limits;
  sure: Limits;
}

const NO_LIMITS: FillLimits = { near: new Limits(), sure: new Limits() };

/**
 * Gathers records into bars, one bar after the other. The caller says where a bar opens and which stretch of records
 * goes in; the inner loops run over plain columns with everything in locals.
 */
export class BarAssembler {
  private readonly made: BarColumns;
  /** What the current bar carries of its records, words and numbers alike; not known before the first record. */
  private carried: Carried[] | undefined;
  /** Whether a bar is begun and not closed. */
  isOpen = false;
  // none of these begins as a whole number: the engine would keep it as one, and make the code anew for every other
  private start: Instant = NaN;
  private end: Instant = NaN;
  /** Of the bar that was begun last. */
  firstRecord = NaN;
  private endRecord = NaN;
  high = NaN;
  low = NaN;
  private open = NaN;
  private close = NaN;
  volume = NaN;
  value = NaN;
  trades = NaN;
  private anySize = false;
  private anyValue = false;
  private anyTrades = false;

  constructor(course = new BuildCourse()) {
    this.made = new BarColumns(course);
  }

  /** Starts a bar; the one before is closed. */
  begin(start: Instant, end: Instant, firstRecord: number): void {
    if (this.isOpen) this.closeBar();
    this.isOpen = true;
    this.start = start;
    this.end = end;
    this.firstRecord = this.endRecord = firstRecord;
    this.high = -Infinity;
    this.low = Infinity;
    this.open = this.close = NaN;
    this.volume = this.value = this.trades = 0;
    this.anySize = this.anyValue = this.anyTrades = false;
    if (this.carried) for (const one of this.carried) one.begin();
  }

  /**
   * Adds records [from, to) of a block to the current bar, up to the one with which it may be full. Ticks with sizes go on
   * with further bars, each begun with its first record, as long as they are full beyond doubt.
   * @param offset  index of the block's first record
   * @returns       the row after the last record that went in
   */
  add(records: Records, from: number, to: number, offset: number, bounds: FillLimits = NO_LIMITS): number {
    const { open, high, low, close, size, value, trades, texts } = records;
    if (texts) this.carried ??= this.carry(records);
    if (size && high === low && !value && !trades) return this.addTicks(records, size, from, to, offset, bounds);
    const until = trades ? to : Math.min(to, from + bounds.near.trades - this.trades);
    const end = size
      ? this.addSized(records, size, from, until, bounds.near)
      : this.addPrices(records, from, until, bounds.near.range);
    this.endRecord = offset + end;
    if (texts) this.carryOn(texts, from, end);
    if (this.open !== this.open) this.open = firstKnown(open, from, end);
    this.close = lastKnown(close, from, end, this.close);
    return end;
  }

  /** A running bar ends with its last record. */
  endAt(end: Instant): void {
    this.end = end;
  }

  /** How many bars there are, with the one that is begun. */
  get bars(): number {
    return this.made.bars + (this.isOpen ? 1 : 0);
  }

  /** The bars from a row on, as they are now: the one that is begun is the last of them, and stays begun. */
  barsFrom(first: number, leftOut: number): BuiltBars {
    if (this.isOpen) this.write(this.made.draft());
    return this.made.toBars(leftOut, first, this.isOpen);
  }

  private carry({ texts, takes }: Records): Carried[] {
    const names = Object.keys(texts!);
    this.made.carry(names);
    return names.map((name) => new Carried(name, Object.hasOwn(takes, name) ? takes[name] : 'last'));
  }

  private carryOn(texts: NonNullable<Records['texts']>, from: number, to: number): void {
    for (const one of this.carried!) one.add(texts[one.name], from, to);
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
    this.trades += row - from;
    this.anyTrades = true;
    return row;
  }

  /**
   * Records that have one price and no value of their own: the most frequent ones by far, and a bar may hold no more than a
   * few of them. So bars that are full beyond doubt are closed here, and the next is begun.
   */
  private addTicks(
    records: Records,
    size: Float64Array,
    from: number,
    to: number,
    offset: number,
    bounds: FillLimits,
  ): number {
    const { time, close: price, priced, texts } = records;
    const { near, sure } = bounds;
    const { trades: tradesLimit, volume: volumeLimit, value: valueLimit, range: rangeLimit } = near;
    const isLimited = bounds !== NO_LIMITS;
    for (let first = from; ;) {
      let row = first | 0; // a whole number in the loop, whatever it is elsewhere
      let { high: highest, low: lowest, volume, value: traded } = this;
      const until = Math.min(to, first + tradesLimit - this.trades) | 0;
      let unknown = 0;
      let unpriced = 0;
      while (row < until) {
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
      const known = row - first - unknown;
      if (known > 0) this.anySize = true;
      if (known > unpriced && priced) this.anyValue = true;
      this.trades += row - first;
      this.anyTrades = true;
      if (this.open !== this.open) this.open = firstKnown(price, first, row);
      this.close = lastKnown(price, first, row, this.close);
      this.endRecord = offset + row;
      if (texts) this.carryOn(texts, first, row);
      const isFull =
        this.trades >= sure.trades || volume >= sure.volume || traded >= sure.value || highest - lowest >= sure.range;
      if (!isFull) return row;
      this.end = time[row - 1];
      this.closeBar();
      if (row === to) return row;
      this.begin(time[row], time[row], offset + row);
      first = row;
    }
  }

  /** Everything in one pass: a running bar may hold no more than a few records, and each pass costs something to begin. */
  private addSized(
    { high, low, close, value, trades, priced }: Records,
    size: Float64Array,
    from: number,
    to: number,
    { volume: volumeLimit, value: valueLimit, range: rangeLimit }: Limits,
  ): number {
    let { high: highest, low: lowest, volume, value: traded, trades: counted } = this;
    let known = 0;
    let valued = 0;
    let uncounted = 0;
    let row = from | 0;
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
      const count = trades ? trades[row] : 1;
      if (count === count) counted += count;
      else uncounted++;
      row++;
      if (volume >= volumeLimit || traded >= valueLimit || highest - lowest >= rangeLimit) break;
    }
    this.high = highest;
    this.low = lowest;
    this.volume = volume;
    this.value = traded;
    this.trades = counted;
    if (known > 0) this.anySize = true;
    if (valued > 0 && priced) this.anyValue = true;
    if (row - from > uncounted) this.anyTrades = true;
    return row;
  }

  private closeBar(): void {
    this.isOpen = false;
    this.write(this.made.next());
  }

  /** Writes the bar that was begun last into a row of the block. */
  private write(row: number): void {
    const { block } = this.made;
    const volume = this.anySize ? this.volume : NaN;
    const value = this.anyValue ? this.value : NaN;
    block.time[row] = this.start;
    block.end[row] = this.end;
    block.open[row] = this.open;
    block.high[row] = this.high === -Infinity ? NaN : this.high;
    block.low[row] = this.low === Infinity ? NaN : this.low;
    block.close[row] = this.close;
    block.volume[row] = volume;
    block.value[row] = value;
    block.vwap[row] = volume > 0 ? value / volume : NaN;
    block.trades[row] = this.anyTrades ? this.trades : NaN;
    block.firstRecord[row] = this.firstRecord;
    block.endRecord[row] = this.endRecord;
    for (let text = 0; text < block.texts.length; text++) block.texts[text][row] = this.carried![text].value;
  }
}

/** What a column of its records comes to in a bar; missing values are passed over. */
class Carried {
  private total = NaN;
  private known = 0;

  constructor(
    readonly name: string,
    private readonly take: Take,
  ) {}

  begin(): void {
    this.total = NaN;
    this.known = 0;
  }

  /** Rows [from, to) of the column. */
  add(column: Float64Array, from: number, to: number): void {
    if (this.take === 'last') this.total = lastKnown(column, from, to, this.total);
    else if (this.take === 'first') this.total = this.total === this.total ? this.total : firstKnown(column, from, to);
    else
      for (let row = from; row < to; row++) {
        const x = column[row];
        if (x !== x) continue;
        this.total = this.known++ === 0 ? x : this.total + x;
      }
  }

  get value(): number {
    return this.take === 'mean' ? this.total / this.known : this.total;
  }
}

/** The first number of rows [from, to); NaN where there is none. */
function firstKnown(column: Float64Array, from: number, to: number): number {
  for (let row = from; row < to; row++) if (column[row] === column[row]) return column[row];
  return NaN;
}

/** The last number of rows [from, to); `before` where there is none. */
function lastKnown(column: Float64Array, from: number, to: number, before: number): number {
  for (let row = to - 1; row >= from; row--) if (column[row] === column[row]) return column[row];
  return before;
}
