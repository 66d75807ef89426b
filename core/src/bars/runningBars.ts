import { ArgumentError } from '../arguments.js';
import { decimalsOf, MOST_DECIMALS } from '../numeric/decimals.js';
import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { BarAssembler, NO_LIMITS, type Limits } from './barAssembler.js';
import type { BarKind, BarRule } from './barRule.js';
import type { BuiltBars } from './bars.js';
import type { BlockBuilder, SourceFacts } from './buildBars.js';
import type { Records } from './records.js';
import { firstFrom } from '../numeric/search.js';
import { outsideUntil } from './timeIntervals.js';

type RunningKind = Exclude<BarKind, { by: 'interval' | 'period' }>;

interface Stretch {
  records: Records;
  from: number;
  to: number;
}

/** Steps to a unit of price, and to one of size: in these limits are compared, so that 100.3 - 100.2 does reach 0.1. */
interface Steps {
  price: number;
  size: number;
}

/**
 * Of a limit: how near to it a sum of doubles, or a distance of two, has to come before it is worked out in whole steps.
 * Rounding puts a sum of n terms off by n / 2^53 of itself at most, so this holds for bars of a million records.
 */
const NEARLY = 1e-9;
/** The same for a distance of prices, as a share of these: they are rounded once, by 2^-53 of themselves. */
const NEARLY_OF_PRICE = 1e-12;

/**
 * Bars that end when a running total or the range of prices reaches a limit.
 *
 * Limits are compared in whole steps of price and size. Most records leave no doubt, so their doubles are summed as they
 * are; only a total so near the limit that rounding could decide is added up once more, in whole steps.
 */
export class RunningBarBuilder implements BlockBuilder {
  private readonly assembler = new BarAssembler();
  private rows = 0;
  private leftOut = 0;
  /** Whether the current bar waits for more records, and how many trades have come together in it. */
  private filling = false;
  private reached = NaN;
  private dayEndsAt: Instant = -Infinity;
  /** Where the current bar begins in the stretch that is being cut, and its stretches before that one. */
  private from = 0;
  private stretches: Stretch[] = [];
  /** What the current bar holds of earlier blocks, and of all, in whole steps; the latter only where it had to be known. */
  private settled = NaN;
  private exact = NaN;
  private steps: Steps = { price: 1, size: 1 };

  constructor(
    private readonly kind: RunningKind,
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
    private readonly facts: SourceFacts,
  ) {}

  add(records: Records): void {
    if (this.rows === 0) this.refuseUnknown(records);
    const { time } = records;
    const rows = time.length;
    for (let row = 0; row < rows;) {
      const until = this.keptUntil(time[row]);
      const from = row;
      row = firstFrom(time, until.instant, row);
      if (until.kept) this.cut(records, from, row);
      else this.leftOut += row - from;
    }
    this.rows += rows;
    this.settle();
  }

  finish(): BuiltBars {
    const bars = this.assembler.finish(this.leftOut);
    if (this.filling) bars.complete[bars.complete.length - 1] = 0;
    return bars;
  }

  /** Up to when the records from `instant` on are kept, or left out; with `restart: day` a new day ends the bar. */
  private keptUntil(instant: Instant): { kept: boolean; instant: Instant } {
    const { calendar, rule } = this;
    const day = calendar.dayAt(instant);
    if (!rule.allHours) {
      const outside = outsideUntil(calendar, day, instant);
      if (outside !== undefined) return { kept: false, instant: outside };
    }
    if (rule.restart === 'day' && day.endsAt !== this.dayEndsAt) this.filling = false;
    this.dayEndsAt = day.endsAt;
    return { kept: true, instant: rule.allHours ? day.endsAt : calendar.sessionEnd(day) };
  }

  /** Cuts records [from, to), which lie in one stretch of kept time. */
  private cut(records: Records, from: number, to: number): void {
    const { assembler, kind } = this;
    const limits = this.nearLimits(records.close[from]);
    this.from = from;
    for (let row = from; row < to;) {
      if (!this.filling) this.begin(records, row);
      const until = kind.by === 'trades' ? this.endByTrades(records, row, to) : to;
      const end = assembler.add(records, row, until, this.rows, limits);
      assembler.endAt((records.end ?? records.time)[end - 1]);
      this.filling = !this.isFilled(records, row, end, limits);
      row = end;
    }
    if (this.filling && (kind.by === 'units' || kind.by === 'value'))
      this.stretches.push({ records, from: this.from, to });
  }

  private begin({ time }: Records, row: number): void {
    this.assembler.begin(time[row], time[row], this.rows + row);
    this.from = row;
    this.reached = this.settled = 0;
    this.exact = NaN;
    if (this.stretches.length > 0) this.stretches = [];
  }

  /** Short of the limit by as much as rounding can put a sum off, or a distance of prices such as `price`. */
  private nearLimits(price: number): Limits {
    const { by, limit } = this.kind;
    const nearly = limit * (1 - NEARLY);
    if (by === 'units') return { ...NO_LIMITS, volume: nearly };
    if (by === 'value') return { ...NO_LIMITS, value: nearly };
    if (by === 'range') return { ...NO_LIMITS, range: nearly - Math.abs(price) * NEARLY_OF_PRICE || nearly };
    return NO_LIMITS;
  }

  /** Whether the current bar is full with records [from, to) of the block, which went in last. */
  private isFilled(records: Records, from: number, to: number, near: Limits): boolean {
    const { assembler, kind } = this;
    const { by, limit } = kind;
    if (by === 'trades') return this.reached >= limit;
    if (by === 'range') {
      const { high, low } = assembler;
      if (!(high - low >= near.range)) return false;
      // the middle of two quotes has a place more than they have, so what is known of the tape does not tell
      const { price } = this.stepsFor(decimalsOf(Float64Array.of(high, low)), 0);
      return Math.round(high * price) - Math.round(low * price) >= Math.round(limit * price);
    }
    const total = by === 'units' ? assembler.volume : assembler.value;
    if (total < limit * (1 - NEARLY)) return false;
    if (total > limit * (1 + NEARLY)) return true;
    const parts = Number.isNaN(this.exact)
      ? [...this.stretches, { records, from: this.from, to }]
      : [{ records, from, to }];
    for (const part of parts) this.refine(part);
    if (Number.isNaN(this.exact)) this.exact = this.settled;
    for (const part of parts) this.exact += this.stepsIn(part);
    const { price, size } = this.steps;
    return this.exact >= Math.round(limit * size * (by === 'value' ? price : 1));
  }

  /** The row after the one that fills the current bar by its count of trades, or `to`. */
  private endByTrades({ trades }: Records, from: number, to: number): number {
    const { limit } = this.kind;
    if (!trades) {
      const end = Math.min(to, from + limit - this.reached);
      this.reached += end - from;
      return end;
    }
    for (let row = from; row < to; row++) {
      this.reached += Number.isNaN(trades[row]) ? 0 : trades[row];
      if (this.reached >= limit) return row + 1;
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
  private refine({ records: { close, size }, from, to }: Stretch): void {
    const { priceDecimals, sizeDecimals } = this.facts;
    const before = this.steps;
    this.steps = this.stepsFor(
      priceDecimals ?? decimalsOf(close.subarray(from, to)),
      sizeDecimals ?? (size ? decimalsOf(size.subarray(from, to)) : 0),
    );
    const finer = (this.steps.price / before.price) * (this.steps.size / before.size);
    this.settled *= finer;
    this.exact *= finer;
  }

  /** Steps for values of so many decimal places, and no coarser than they are. */
  private stepsFor(priceDecimals: number, sizeDecimals: number): Steps {
    const { by, limit } = this.kind;
    const own = decimalsOf(Float64Array.of(limit));
    const scale = (places: number, least: number) => 10 ** Math.min(MOST_DECIMALS, Math.max(places, least));
    return {
      price: by === 'units' ? 1 : Math.max(this.steps.price, scale(priceDecimals, by === 'range' ? own : 0)),
      size: by === 'range' ? 1 : Math.max(this.steps.size, scale(sizeDecimals, by === 'units' ? own : 0)),
    };
  }

  private stepsIn({ records, from, to }: Stretch): number {
    let total = 0;
    for (let row = from; row < to; row++) total += this.wholeSteps(records, row);
    return total;
  }

  /** What a record adds to the total, in whole steps; an unknown size or value adds nothing. */
  private wholeSteps({ size, value, close }: Records, row: number): number {
    const { steps } = this;
    const units = Math.round(size![row] * steps.size);
    if (this.kind.by === 'units') return units || 0;
    if (value) return units === units ? Math.round(value[row] * steps.price * steps.size) || 0 : 0;
    return units * Math.round(close[row] * steps.price) || 0;
  }

  private refuseUnknown({ size, trades }: Records): void {
    const { by } = this.kind;
    if ((by === 'units' || by === 'value') && !size)
      throw new ArgumentError('rule', 'a rule by time, trades or range, since the records have no sizes', by);
    if (by === 'trades' && trades?.every(Number.isNaN))
      throw new ArgumentError('rule', 'a rule by time, units or range, since the records do not count trades', by);
  }
}
