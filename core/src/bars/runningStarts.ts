import { firstFrom } from '../numeric/search.js';
import type { Quotes, Ticks } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';
import { isTimed, type BarRule, type RunningKind } from './barKind.js';
import type { Bars } from './bars.js';
import { recordsOf, type Records } from './records.js';
import { keptUntil, NEARLY, NEARLY_OF_PRICE } from './runningBars.js';
import { refuseUnknown } from './runningKinds.js';
import { Extremes, WaitingStarts } from './waitingStarts.js';

/** Records of the session that a bar may begin with; bars that are larger are not worth being cut by several. */
const MOST_STARTS = 1 << 20;

/** Totals are counted from anew when they have grown to so many limits, so that rounding puts them off by little. */
const MOST_LIMITS = 16;

/** Where bars that run on begin behind a stretch, by where they begin in it. */
export interface StretchStarts {
  /** Records of the session in the stretch. */
  records: number;
  /**
   * For each number of records of the session that come before the first bar begins: how many of the next stretch come
   * before one begins there; NaN where that is not known. Larger numbers cannot be.
   */
  behind: Float64Array;
}

/**
 * Finds where bars that run on begin behind a stretch, whatever comes before it: from totals of all records up to each. The
 * bar that goes on from before is full at the latest where one that begins with the stretch is, so that few starts have to
 * be followed, and those that meet are one from there on.
 *
 * Totals are rounded, so that a start may be wrong where a bar is full by less than a billionth of its limit. It only says
 * where to begin: `StretchBuilder` finds out what is right.
 */
export class RunningStarts {
  private readonly kind: RunningKind;
  /** Records of the session so far, and in the stretch alone. */
  private taken = 0;
  private own: number | undefined;
  private total = 0;
  /** Whether each record counts as one. */
  private counts = false;
  private readonly highest = new Extremes();
  private readonly lowest = new Extremes();
  private readonly waiting = new WaitingStarts();
  /** Whether starts are still to be added: until the first is full. */
  private isSeeding = true;

  /** @throws {RangeError} for a rule of bars that do not run on */
  constructor(
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
  ) {
    if (isTimed(rule.kind)) throw new RangeError('bars by clock and calendar begin where these say');
    this.kind = rule.kind;
  }

  /**
   * A block of the stretch. It may be written over after this.
   * @throws {ArgumentError} where the records cannot be cut into bars of the rule
   */
  add(block: Ticks | Quotes | Bars): void {
    if (block.time.length === 0) return;
    const records = recordsOf(block, this.rule);
    const { time } = records;
    if (this.taken === 0 && time.length > 0) refuseUnknown(this.kind, records);
    for (let row = 0; row < time.length;) {
      const { kept, until } = keptUntil(time[row], this.rule, this.calendar);
      const from = row;
      row = firstFrom(time, until, row);
      if (kept) this.take(records, from, row);
    }
  }

  /** A block of the next stretch. It may be written over after this. */
  goOn(block: Ticks | Quotes | Bars): void {
    this.own ??= this.taken;
    this.isSeeding = false;
    this.add(block);
  }

  /** Whether a block of the next stretch would tell more. */
  get wantsMore(): boolean {
    return this.waiting.first < (this.own ?? this.taken);
  }

  starts(): StretchStarts {
    const records = this.own ?? this.taken;
    if (this.counts) return { records, behind: this.behindCount(records) };
    return { records, behind: this.waiting.reached().map((at) => (at >= records ? at - records : NaN)) };
  }

  /** The same where bars take so many records each. */
  private behindCount(records: number): Float64Array {
    const each = Math.ceil(this.kind.limit);
    const behind = new Float64Array(Math.min(each, records, MOST_STARTS));
    return behind.map((_, start) => (each - ((records - start) % each)) % each);
  }

  /** Takes records [from, to), all of the session. */
  private take(records: Records, from: number, to: number): void {
    const amounts = this.kind.by === 'range' ? undefined : amountsOf(this.kind, records);
    if (this.kind.by === 'range') this.takePrices(records, from, to);
    else if (amounts) this.takeAmounts(amounts, from, to);
    else {
      this.counts = true;
      this.taken += to - from;
    }
  }

  private takeAmounts(amounts: Float64Array, from: number, to: number): void {
    const { waiting } = this;
    const limit = this.kind.limit * (1 - NEARLY);
    // nearly all records begin no bar and fill none, so what these are told by is kept in locals
    let { total, taken: at } = this;
    let { last } = waiting;
    let full = this.isOpen(at - 1) ? waiting.totalBeforeFirst + limit : Infinity;
    for (let row = from; row < to; row++, at++) {
      if (this.isSeeding) {
        this.seed(at);
        ({ last } = waiting);
      }
      if (last === at) {
        waiting.totalBeforeLast = total;
        if (waiting.first === at && this.isOpen(at)) full = total + limit;
      }
      const amount = amounts[row];
      if (amount === amount) total += amount;
      if (total < full) continue;
      do this.moveFirst(at + 1);
      while (this.isOpen(at) && total >= waiting.totalBeforeFirst + limit);
      if (total >= MOST_LIMITS * limit) total -= waiting.countFromFirst();
      ({ last } = waiting);
      full = this.isOpen(at) ? waiting.totalBeforeFirst + limit : Infinity;
    }
    this.total = total;
    this.taken = at;
  }

  /** Whether the first bar has begun with record `at` or before; what begins behind the stretch is followed no further. */
  private isOpen(at: number): boolean {
    return this.waiting.first <= at && this.waiting.first < (this.own ?? Infinity);
  }

  private takePrices({ high, low }: Records, from: number, to: number): void {
    const { waiting, highest, lowest } = this;
    const limit = this.kind.limit * (1 - NEARLY);
    let at = this.taken;
    for (let row = from; row < to; row++, at++) {
      if (this.isSeeding) this.seed(at);
      highest.add(high[row], at);
      lowest.add(-low[row], at);
      while (this.isOpen(at) && highest.value + lowest.value >= limit - highest.value * NEARLY_OF_PRICE) {
        this.moveFirst(at + 1);
        highest.leave(waiting.first);
        lowest.leave(waiting.first);
      }
    }
    this.taken = at;
  }

  /** The first bar is full, and another begins with a record. */
  private moveFirst(record: number): void {
    this.waiting.moveFirst(record);
    // the first start of all is the first to be full, and all others have begun by then
    if (this.isSeeding) this.seed(record);
    this.isSeeding = false;
  }

  private seed(record: number): void {
    this.waiting.seed(record);
    if (this.waiting.seeds >= MOST_STARTS) this.isSeeding = false;
  }
}

/** What each record adds to the total of a bar, missing where that is not known; undefined where it is one each. */
function amountsOf({ by }: RunningKind, { trades, size, value, close }: Records): Float64Array | undefined {
  if (by === 'trades') return trades;
  if (by === 'units') return size;
  return value ?? size!.map((units, row) => units * close[row]);
}

/**
 * How many records of the session come before a bar begins in each of some stretches, in order of time from the first of the
 * source on, and in the one behind them.
 * @returns undefined where that is not known of all
 */
export function firstStarts(stretches: readonly StretchStarts[]): number[] | undefined {
  const starts = [0];
  for (const { records, behind } of stretches) {
    const own = starts[starts.length - 1];
    const next = own >= records ? own - records : behind[own];
    if (!(next >= 0)) return undefined;
    starts.push(next);
  }
  return starts;
}
