import { GrowingColumn } from '../numeric/growingColumn.js';
import type { Instant } from '../time/instant.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import type { Records } from './records.js';

/**
 * Gathers records into bars, one bar after the other. The caller says where a bar opens and which stretch of records
 * goes in; the inner loops run over plain columns with everything in locals.
 */
export class BarAssembler {
  private readonly columns = Object.fromEntries(
    [...BAR_FIELDS, 'firstRecord', 'endRecord'].map((field) => [field, new GrowingColumn()]),
  ) as Record<(typeof BAR_FIELDS)[number] | 'firstRecord' | 'endRecord', GrowingColumn>;
  private isOpen = false;
  private start: Instant = NaN;
  private end: Instant = NaN;
  private firstRecord = 0;
  private endRecord = 0;
  high = -Infinity;
  low = Infinity;
  private open = NaN;
  private close = NaN;
  private volume = 0;
  private value = 0;
  private trades = 0;
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

  /** Adds records [from, to) of the block to the current bar; `offset` is the index of the block's first record. */
  add(records: Records, from: number, to: number, offset: number): void {
    this.endRecord = offset + to;
    this.addPrices(records, from, to);
    const { size, trades, value, close, priced } = records;
    if (size) this.addSizes(size, value, close, priced, from, to);
    if (!trades) {
      this.trades += to - from;
      this.anyTrades = true;
      return;
    }
    for (let row = from; row < to; row++) {
      if (Number.isNaN(trades[row])) continue;
      this.trades += trades[row];
      this.anyTrades = true;
    }
  }

  /** A running bar ends with its last record. */
  endAt(end: Instant): void {
    this.end = end;
  }

  /** Closes the last bar and gives them all. */
  finish(leftOut: number): BuiltBars {
    this.finishBar();
    const { firstRecord, endRecord, ...fields } = this.columns;
    const arrays = Object.fromEntries(Object.entries(fields).map(([name, column]) => [name, column.toArray()]));
    return {
      ...(arrays as Record<(typeof BAR_FIELDS)[number], Float64Array>),
      complete: new Uint8Array(fields.time.length).fill(1),
      firstRecord: firstRecord.toArray(),
      endRecord: endRecord.toArray(),
      leftOut,
    };
  }

  private addPrices({ open, high, low, close }: Records, from: number, to: number): void {
    let highest = this.high;
    let lowest = this.low;
    if (high === low) {
      for (let row = from; row < to; row++) {
        const price = high[row];
        if (price > highest) highest = price;
        if (price < lowest) lowest = price;
      }
    } else {
      for (let row = from; row < to; row++) {
        if (high[row] > highest) highest = high[row];
        if (low[row] < lowest) lowest = low[row];
      }
    }
    this.high = highest;
    this.low = lowest;
    for (let row = from; Number.isNaN(this.open) && row < to; row++) this.open = open[row];
    for (let row = to - 1; row >= from; row--)
      if (!Number.isNaN(close[row])) {
        this.close = close[row];
        break;
      }
  }

  private addSizes(
    size: Float64Array,
    value: Float64Array | undefined,
    price: Float64Array,
    priced: boolean,
    from: number,
    to: number,
  ): void {
    let { volume, value: traded } = this;
    let known = 0;
    let valued = 0;
    for (let row = from; row < to; row++) {
      const units = size[row];
      if (units !== units) continue; // unknown sizes are passed over
      volume += units;
      known++;
      const worth = value ? value[row] : units * price[row];
      if (worth !== worth) continue;
      traded += worth;
      valued++;
    }
    this.volume = volume;
    this.value = traded;
    if (known > 0) this.anySize = true;
    if (valued > 0 && priced) this.anyValue = true;
  }

  private finishBar(): void {
    if (!this.isOpen) return;
    this.isOpen = false;
    const { columns } = this;
    const volume = this.anySize ? this.volume : NaN;
    const value = this.anyValue ? this.value : NaN;
    columns.time.push(this.start);
    columns.end.push(this.end);
    columns.open.push(this.open);
    columns.high.push(this.high === -Infinity ? NaN : this.high);
    columns.low.push(this.low === Infinity ? NaN : this.low);
    columns.close.push(this.close);
    columns.volume.push(volume);
    columns.value.push(value);
    columns.vwap.push(volume > 0 ? value / volume : NaN);
    columns.trades.push(this.anyTrades ? this.trades : NaN);
    columns.firstRecord.push(this.firstRecord);
    columns.endRecord.push(this.endRecord);
  }
}
