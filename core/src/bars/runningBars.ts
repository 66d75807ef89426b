import { ArgumentError } from '../arguments.js';
import { decimalsOf, MOST_DECIMALS } from '../numeric/decimals.js';
import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { BarAssembler } from './barAssembler.js';
import type { BarKind, BarRule } from './barRule.js';
import type { BuiltBars } from './bars.js';
import type { BlockBuilder, SourceFacts } from './buildBars.js';
import type { Records } from './records.js';
import { firstFrom } from '../numeric/search.js';
import { outsideUntil } from './timeIntervals.js';

type RunningKind = Exclude<BarKind, { by: 'interval' | 'period' }>;

/** Bars that end when a running total or the range of prices reaches a limit. */
export class RunningBarBuilder implements BlockBuilder {
  private readonly assembler = new BarAssembler();
  private rows = 0;
  private leftOut = 0;
  /** Whether the current bar waits for more records, and what has come together in it, in whole steps. */
  private filling = false;
  private reached = 0;
  private highest = -Infinity;
  private lowest = Infinity;
  private dayEndsAt: Instant = -Infinity;
  private priceScale = 0;
  private sizeScale = 0;

  constructor(
    private readonly kind: RunningKind,
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
    private readonly facts: SourceFacts,
  ) {}

  add(records: Records): void {
    if (this.rows === 0) this.start(records);
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
    for (let row = from; row < to;) {
      if (!this.filling) {
        this.assembler.begin(records.time[row], records.time[row], this.rows + row);
        this.filling = true;
        this.reached = 0;
        this.highest = -Infinity;
        this.lowest = Infinity;
      }
      const end = this.fill(records, row, to);
      this.assembler.add(records, row, end, this.rows);
      this.assembler.endAt((records.end ?? records.time)[end - 1]);
      row = end;
    }
  }

  /** The row after the one that fills the current bar, or `to`; a loop a kind, since each runs over every record. */
  private fill(records: Records, from: number, to: number): number {
    switch (this.kind.by) {
      case 'trades':
        return this.fillByTrades(records, from, to);
      case 'range':
        return this.fillByRange(records, from, to);
      default:
        return this.fillByTotal(records, from, to);
    }
  }

  private fillByTrades({ trades }: Records, from: number, to: number): number {
    const { limit } = this.kind;
    if (!trades) {
      const end = Math.min(to, from + limit - this.reached);
      this.reached += end - from;
      this.filling = this.reached < limit;
      return end;
    }
    for (let row = from; row < to; row++) {
      this.reached += Number.isNaN(trades[row]) ? 0 : trades[row];
      if (this.reached >= limit) return this.filled(row + 1);
    }
    return to;
  }

  private fillByTotal({ size, value, close }: Records, from: number, to: number): number {
    const { priceScale, sizeScale } = this;
    const byValue = this.kind.by === 'value';
    const limit = Math.round(this.kind.limit * sizeScale * (byValue ? priceScale : 1));
    let { reached } = this;
    if (!byValue && sizeScale === 1) {
      // whole units, the common case: nothing to round
      for (let row = from; row < to; row++) {
        const units = size![row];
        if (units === units && (reached += units) >= limit) return this.filled(row + 1);
      }
      this.reached = reached;
      return to;
    }
    for (let row = from; row < to; row++) {
      const units = size![row];
      if (units !== units) continue;
      if (!byValue) reached += Math.round(units * sizeScale);
      else if (value) reached += Math.round(value[row] * priceScale * sizeScale) || 0;
      else reached += Math.round(units * sizeScale) * Math.round(close[row] * priceScale) || 0;
      if (reached >= limit) return this.filled(row + 1);
    }
    this.reached = reached;
    return to;
  }

  private fillByRange({ high, low }: Records, from: number, to: number): number {
    const { priceScale } = this;
    const limit = Math.round(this.kind.limit * priceScale);
    let { highest, lowest } = this;
    for (let row = from; row < to; row++) {
      // only a new extreme can fill the bar
      if (!(high[row] > highest || low[row] < lowest)) continue;
      if (high[row] > highest) highest = high[row];
      if (low[row] < lowest) lowest = low[row];
      if (Math.round(highest * priceScale) - Math.round(lowest * priceScale) >= limit) return this.filled(row + 1);
    }
    this.highest = highest;
    this.lowest = lowest;
    return to;
  }

  private filled(end: number): number {
    this.filling = false;
    return end;
  }

  /** Fixes the steps that limits are compared in, so that 100.3 - 100.2 does reach 0.1. */
  private start({ high, size, trades }: Records): void {
    const { by, limit } = this.kind;
    if ((by === 'units' || by === 'value') && !size)
      throw new ArgumentError('rule', 'a rule by time, trades or range, since the records have no sizes', by);
    if (by === 'trades' && trades?.every(Number.isNaN))
      throw new ArgumentError('rule', 'a rule by time, units or range, since the records do not count trades', by);
    const own = decimalsOf(Float64Array.of(limit));
    const scale = (known: number | undefined, column: Float64Array, least: number) =>
      10 ** Math.min(MOST_DECIMALS, known === undefined ? decimalsOf(column, least) : Math.max(known, least));
    this.priceScale = scale(this.facts.priceDecimals, high, by === 'range' ? own : 0);
    this.sizeScale = size ? scale(this.facts.sizeDecimals, size, by === 'units' ? own : 0) : 1;
  }
}
