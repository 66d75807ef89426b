import { decimalsOf, MOST_DECIMALS } from '../numeric/decimals.js';
import type { Calendar, TradingDay } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { BarAssembler, Limits, type FillLimits } from './barAssembler.js';
import type { BarRule, RunningKind } from './barKind.js';
import type { BuiltBars } from './bars.js';
import type { BlockBuilder } from './blockBuilder.js';
import type { BuildCourse } from './buildCourse.js';
import type { Records } from './records.js';
import { firstFrom } from '../numeric/search.js';
import { refuseUnknown, runningKind, type RunningKindEntry } from './runningKinds.js';
import { outsideUntil } from './timeIntervals.js';

interface RecordRange {
  records: Records;
  from: number;
  to: number;
}

/** StepScale to a unit of price, and to one of size: in these limits are compared, so that 100.3 - 100.2 does reach 0.1. */
interface StepScale {
  price: number;
  size: number;
}

/**
 * Of a limit: how near to it a sum of doubles, or a distance of two, has to come before it is worked out in whole steps.
 * Rounding puts a sum of n terms off by n / 2^53 of itself at most, so this holds for bars of a million records.
 */
export const NEARLY = 1e-9;
/** The same for a distance of prices, as a share of these: they are rounded once, by 2^-53 of themselves. */
export const NEARLY_OF_PRICE = 1e-12;

/** Up to when the records from `instant` on are kept, or left out, and the day that it lies in. */
export function keptUntil(
  instant: Instant,
  { allHours }: BarRule,
  calendar: Calendar,
): { kept: boolean; until: Instant; day: TradingDay } {
  const day = calendar.dayAt(instant);
  const outside = allHours ? undefined : outsideUntil(calendar, day, instant);
  if (outside !== undefined) return { kept: false, until: outside, day };
  return { kept: true, until: allHours ? day.endsAt : calendar.sessionEnd(day), day };
}

/** One limit alone. */
function within(of: keyof Limits, near: number, sure: number): FillLimits {
  const bounds = { near: new Limits(), sure: new Limits() };
  bounds.near[of] = near;
  bounds.sure[of] = sure;
  return bounds;
}

/**
 * Bars that end when a running total or the range of prices reaches a limit.
 *
 * Limits are compared in whole steps of price and size. Most records leave no doubt, so their doubles are summed as they
 * are; only a total so near the limit that rounding could decide is added up once more, in whole steps.
 */
export class RunningBarBuilder implements BlockBuilder {
  private readonly entry: RunningKindEntry;
  private readonly assembler: BarAssembler;
  private rows = 0;
  private leftOut = 0;
  /** Whether the current bar waits for more records, and how many trades have come together in it. */
  private filling = false;
  private reached = NaN;
  private dayEndsAt: Instant = -Infinity;
  /** What the current bar holds of earlier stretches of this block. */
  private stretches: RecordRange[] = [];
  /** What the current bar holds of earlier blocks, and of all, in whole steps; the latter only where it had to be known. */
  private settled = NaN;
  private exact = NaN;
  private steps: StepScale = { price: 1, size: 1 };
  /** Whether a total has come near the limit, so that the decimals of records are worth looking for; and whether they are known. */
  private doubted = false;
  private measured = false;

  constructor(
    private readonly kind: RunningKind,
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
    course?: BuildCourse,
    private skip = 0,
  ) {
    this.entry = runningKind(kind);
    this.assembler = new BarAssembler(course);
    this.steps = this.stepsFor(0, 0);
  }

  add(records: Records): void {
    if (this.rows === 0) refuseUnknown(this.kind, records);
    const { time } = records;
    const rows = time.length;
    this.measured = false;
    for (let row = 0; row < rows;) {
      const { kept, until, day } = keptUntil(time[row], this.rule, this.calendar);
      const from = row;
      row = firstFrom(time, until, row);
      if (!kept) {
        this.leftOut += row - from;
        continue;
      }
      if (this.rule.restart === 'day' && day.endsAt !== this.dayEndsAt) this.filling = false;
      this.dayEndsAt = day.endsAt;
      this.cut(records, from, row);
    }
    this.rows += rows;
    this.settle();
  }

  get bars(): number {
    return this.assembler.bars;
  }

  barsFrom(first: number): BuiltBars {
    const bars = this.assembler.barsFrom(first, this.leftOut);
    if (this.filling && bars.complete.length > 0) bars.complete[bars.complete.length - 1] = 0;
    return bars;
  }

  /** Cuts records [from, to), which lie in one stretch of kept time. */
  private cut(records: Records, first: number, to: number): void {
    const from = Math.min(to, first + this.skip);
    this.skip -= from - first;
    if (from === to) return;
    const { assembler, entry } = this;
    const { time, end: ends = time, trades } = records;
    let bounds = this.boundsOf(records, from);
    for (let row = from; row < to;) {
      if (!this.filling) this.begin(time[row], row);
      const begun = assembler.firstRecord;
      const until = entry.fills === 'trades' && trades ? this.endByTrades(trades, row, to) : to;
      const end = assembler.add(records, row, until, this.rows, bounds);
      if (assembler.firstRecord !== begun) this.forget();
      if (assembler.isOpen) assembler.endAt(ends[end - 1]);
      this.filling = assembler.isOpen && !this.isFilled({ records, from: this.firstIn(from), to: end }, row, bounds);
      if (this.doubted && !this.measured && !records.value) bounds = this.boundsOf(records, from);
      row = end;
    }
    if (this.filling && entry.ofSizes) this.stretches.push({ records, from: this.firstIn(from), to });
  }

  private begin(instant: Instant, row: number): void {
    this.assembler.begin(instant, instant, this.rows + row);
    this.forget();
  }

  /** What was known of the bar before the current one. */
  private forget(): void {
    this.reached = this.settled = 0;
    this.exact = NaN;
    if (this.stretches.length > 0) this.stretches = [];
  }

  /** The first record of the current bar in a stretch that begins with row `from` of the block. */
  private firstIn(from: number): number {
    return Math.max(from, this.assembler.firstRecord - this.rows);
  }

  /**
   * Short of the limit, and beyond it, by as much as rounding can put a sum off, or a distance of prices such as that of row
   * `row`. Once there was a doubt the steps of all records are looked for: where rounding is nothing beside them, a bar is full
   * from half a step short of the one that reaches the limit, and there is no doubt any more.
   */
  private boundsOf(records: Records, row: number): FillLimits {
    const { limit } = this.kind;
    const { fills } = this.entry;
    if (fills === 'trades') return within(fills, limit, limit);
    const price = fills === 'range' ? Math.abs(records.close[row]) || 0 : 0;
    const rounding = limit * NEARLY + price * NEARLY_OF_PRICE;
    if (this.doubted && !records.value) {
      if (!this.measured) this.measure(records);
      const scale = this.steps.price * this.steps.size;
      const half = 0.5 / scale;
      if (half > 4 * rounding) {
        const nearest = Math.round(limit * scale) / scale;
        const full = nearest < limit ? nearest + half : nearest - half;
        return within(fills, full, full);
      }
    }
    return within(fills, limit - rounding, limit + rounding);
  }

  /** Makes the steps fine enough for all records of a block, and for what the current bar holds of earlier ones. */
  private measure(records: Records): void {
    this.measured = true;
    this.refine({ records, from: 0, to: records.time.length });
    const { high, low } = this.assembler;
    if (this.entry.fills === 'range') this.steps = this.stepsFor(decimalsOf(Float64Array.of(high, low)), 0);
  }

  /** Whether the current bar is full, with what it holds of a stretch; the records from `added` on went in last. */
  private isFilled(held: RecordRange, added: number, { near, sure }: FillLimits): boolean {
    const { assembler } = this;
    const { limit } = this.kind;
    const { fills, ofPrices } = this.entry;
    if (fills === 'trades') return (held.records.trades ? this.reached : assembler.trades) >= limit;
    const { high, low, volume, value } = assembler;
    const range = high - low;
    if (volume < near.volume && value < near.value && range < near.range) return false;
    if (volume >= sure.volume || value >= sure.value || range >= sure.range) return true;
    this.doubted = true;
    if (fills === 'range') return this.reachesRange(assembler);
    const parts = Number.isNaN(this.exact) ? [...this.stretches, held] : [{ ...held, from: added }];
    for (const part of parts) this.refine(part);
    if (Number.isNaN(this.exact)) this.exact = this.settled;
    for (const part of parts) this.exact += this.stepsIn(part);
    const { price, size } = this.steps;
    return this.exact >= Math.round(limit * size * (ofPrices ? price : 1));
  }

  /** The same of a distance of prices that is near the limit, in whole steps. */
  private reachesRange({ high, low }: { high: number; low: number }): boolean {
    this.steps = this.stepsFor(decimalsOf(Float64Array.of(high, low)), 0);
    const { price } = this.steps;
    return Math.round(high * price) - Math.round(low * price) >= Math.round(this.kind.limit * price);
  }

  /** The row after the one that fills the current bar by its count of trades, or `to`. */
  private endByTrades(trades: Float64Array, from: number, to: number): number {
    for (let row = from; row < to; row++) {
      this.reached += Number.isNaN(trades[row]) ? 0 : trades[row];
      if (this.reached >= this.kind.limit) return row + 1;
    }
    return to;
  }

  /** Adds up what the current bar holds of the blocks so far, which need not be kept then. */
  private settle(): void {
    const { stretches } = this;
    if (stretches.length === 0) return;
    if (this.filling)
      for (const stretch of stretches) {
        this.refine(stretch);
        this.settled += this.stepsIn(stretch);
      }
    this.stretches = [];
  }

  /** Makes the steps fine enough for some records too, and takes what was added up in coarser ones over to them. */
  private refine({ records: { close, size }, from, to }: RecordRange): void {
    const before = this.steps;
    const { ofPrices, ofSizes } = this.entry;
    this.steps = this.stepsFor(
      ofPrices ? decimalsOf(close.subarray(from, to)) : 0,
      !ofSizes || !size ? 0 : decimalsOf(size.subarray(from, to)),
    );
    const finer = (this.steps.price / before.price) * (this.steps.size / before.size);
    this.settled *= finer;
    this.exact *= finer;
  }

  /** StepScale for values of so many decimal places, and no coarser than they are. */
  private stepsFor(priceDecimals: number, sizeDecimals: number): StepScale {
    const { ofPrices, ofSizes } = this.entry;
    const own = decimalsOf(Float64Array.of(this.kind.limit));
    const scale = (places: number, least: number) => 10 ** Math.min(MOST_DECIMALS, Math.max(places, least));
    return {
      // a limit of prices alone, or of sizes alone, is in their steps too
      price: ofPrices ? Math.max(this.steps.price, scale(priceDecimals, ofSizes ? 0 : own)) : 1,
      size: ofSizes ? Math.max(this.steps.size, scale(sizeDecimals, ofPrices ? 0 : own)) : 1,
    };
  }

  private stepsIn({ records, from, to }: RecordRange): number {
    let total = 0;
    for (let row = from; row < to; row++) total += this.wholeSteps(records, row);
    return total;
  }

  /** What a record adds to the total, in whole steps; an unknown size or value adds nothing. */
  private wholeSteps({ size, value, close }: Records, row: number): number {
    const { steps } = this;
    const units = Math.round(size![row] * steps.size);
    if (!this.entry.ofPrices) return units || 0;
    if (value) return units === units ? Math.round(value[row] * steps.price * steps.size) || 0 : 0;
    return units * Math.round(close[row] * steps.price) || 0;
  }
}
