import type { Quotes, Ticks } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';
import type { BarRule } from './barKind.js';
import type { Bars, BuiltBars } from './bars.js';
import { runsOn, type BarStretch } from './barStretches.js';
import { BarBuilder } from './buildBars.js';
import type { BuildCourse } from './buildCourse.js';

/** Bars after which two series that have not met are not followed any further. */
const MOST_BARS_APART = 20_000;

/** How many records of the session come before a bar begins: in a stretch, and in the one after it. */
export interface StretchSkips {
  own: number;
  next: number;
}

/**
 * Cuts the bars of one of several stretches of a source.
 *
 * Where bars run on, it is told where the first of them begins: `RunningStarts` finds that, and may be wrong where totals are
 * rounded. But a bar depends on nothing before its first record: from the first record on with which two series of bars both
 * begin one, they are the same. So a stretch is cut on into the next one until it has met the bars of that one, and these are
 * those of the whole from there on.
 */
export class StretchBuilder {
  private readonly own: BarBuilder;
  private readonly next: BarBuilder;
  private readonly isApart: boolean;
  /** What is told of the stretch without what follows it. */
  private alone: (Omit<BarStretch, 'bars' | 'goesOn'> & Pick<BuiltBars, 'leftOut'>) | undefined;
  private meetsAt = NaN;
  /** Bars of both that were looked at. */
  private looked = { own: 0, next: 0 };

  constructor(rule: BarRule, calendar: Calendar, course?: BuildCourse, skips: StretchSkips = { own: 0, next: 0 }) {
    this.own = new BarBuilder(rule, calendar, course, skips.own);
    this.next = new BarBuilder(rule, calendar, course, skips.next);
    this.isApart = !runsOn(rule);
  }

  /** A block of the stretch. It may be written over after this. */
  add(block: Ticks | Quotes | Bars): void {
    this.own.add(block);
  }

  /** Whether a block of the next stretch would tell more. */
  get wantsMore(): boolean {
    return !this.isApart && Number.isNaN(this.meetsAt) && this.looked.next < MOST_BARS_APART;
  }

  /** A block of the next stretch. It may be written over after this. */
  goOn(block: Ticks | Quotes | Bars): void {
    if (!this.alone) {
      const { bars, ...about } = this.own.stretch();
      this.alone = { ...about, leftOut: bars.leftOut };
      this.looked.own = this.own.bars;
    }
    this.own.add(block);
    this.next.add(block);
    const { records } = this.alone;
    const begun = new Set(this.own.barsFrom(this.looked.own).firstRecord.map((record) => record - records));
    this.meetsAt = this.next.barsFrom(this.looked.next).firstRecord.find((record) => begun.has(record)) ?? NaN;
    this.looked = { own: this.own.bars, next: this.next.bars };
  }

  /** The stretch, with what its last bar takes of the next one. */
  stretch(): BarStretch {
    const whole = this.own.stretch();
    if (this.isApart) return { ...whole, goesOn: 0 };
    if (!this.alone) return { ...whole, goesOn: NaN };
    const { leftOut, ...about } = this.alone;
    return { ...about, bars: { ...whole.bars, leftOut }, goesOn: this.meetsAt };
  }
}
