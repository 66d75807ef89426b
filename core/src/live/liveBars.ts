import type { BarRule } from '../bars/barKind.js';
import type { Bars, BuiltBars } from '../bars/bars.js';
import { BarBuilder } from '../bars/buildBars.js';
import type { BuildCourse } from '../bars/buildCourse.js';
import type { Quotes, Ticks } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';

/** Bars that are new, or have gone on, since they were last asked for. */
export interface ChangedBars {
  /** The row of the first of them among all bars. */
  first: number;
  bars: BuiltBars;
}

/**
 * Bars of records that arrive. What has been given so far, each row as it was given last, is bit for bit what `buildBars`
 * makes of all records at once; the bar that is still open is the last one, `complete` is 0 for it.
 * @remarks O(1) a record and O(1) a changed bar.
 * @see definitions, section 14
 */
export class LiveBars {
  private readonly builder: BarBuilder;
  /** The bar that was the last one when they were given last, among those that hold records. */
  private open = 0;
  /** Its row among all. */
  private row = 0;

  /** @param course  how many bars there may be, and who may stop their making */
  constructor(rule: BarRule, calendar: Calendar, course?: BuildCourse) {
    this.builder = new BarBuilder(rule, calendar, course);
  }

  /** Takes records in, which are not earlier than those before. The block may be written over after this. */
  add(block: Ticks | Quotes | Bars): void {
    this.builder.add(block);
  }

  /** The bars from the one on that was the last when this was asked before. */
  changed(): ChangedBars {
    const bars = this.builder.barsFrom(this.open);
    const first = this.row;
    const rows = bars.time.length;
    if (rows > 0) {
      this.open = this.builder.bars - 1;
      this.row = first + rows - 1;
    }
    return { first, bars };
  }
}
