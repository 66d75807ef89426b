import { ArgumentError, requireRising } from '../arguments.js';
import type { Quotes, Ticks } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';
import { DAY } from '../time/instant.js';
import type { BarRule } from './barRule.js';
import type { Bars, BuiltBars } from './bars.js';
import { BuildCourse } from './buildCourse.js';
import { fillEmpty } from './emptyIntervals.js';
import { recordsOf, type Records } from './records.js';
import { RunningBarBuilder } from './runningBars.js';
import { intervalsOf, TimeBarBuilder } from './timeBars.js';

/** Builds bars from blocks of records in order of time. Cutting in blocks is the same as cutting at once. */
export interface BlockBuilder {
  add(records: Records): void;
  finish(): BuiltBars;
}

/**
 * Cuts a source that comes in blocks, each as `buildBars` takes it whole. Their order in time is not looked at: who keeps
 * records in blocks keeps them in order.
 * @see buildBars
 */
export class BarBuilder {
  private readonly builder: BlockBuilder;

  /** @param course  how many bars there may be, and who may stop their making */
  constructor(
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
    private readonly course = new BuildCourse(),
  ) {
    const { kind } = rule;
    this.builder =
      kind.by === 'interval' || kind.by === 'period'
        ? new TimeBarBuilder(rule, calendar, course)
        : new RunningBarBuilder(kind, rule, calendar, course);
  }

  /** A block may be written over after this. */
  add(block: Ticks | Quotes | Bars): void {
    if (block.time.length > 0) this.builder.add(recordsOf(block, this.rule));
  }

  /** @throws {TooManyBarsError} before empty intervals are filled with more bars than there may be */
  finish(): BuiltBars {
    const bars = this.builder.finish();
    const { kind, empty } = this.rule;
    if (empty === 'skip' || (kind.by !== 'interval' && kind.by !== 'period')) return bars;
    return fillEmpty(bars, intervalsOf(this.rule, this.calendar), empty, this.course);
  }
}

/**
 * Cuts records into candle bars.
 * @param source    records in order of time: trades, quotes, or smaller bars
 * @param rule      how bars are cut; see `parseBarRule`
 * @param calendar  zone and session of the tape
 * @returns         a row a bar, times strictly rising; prices in the unit of the source
 * @throws {ArgumentError} for columns of unequal length, times that fall, and bars asked for that are finer than the source
 *   or that its interval does not divide
 * @see definitions, section 3
 */
export function buildBars(source: Ticks | Quotes | Bars, rule: BarRule, calendar: Calendar): BuiltBars {
  if ('open' in source) refuseFinerThan(source, rule);
  requireRising('time', source.time);
  const builder = new BarBuilder(rule, calendar);
  builder.add(source);
  return builder.finish();
}

/** @throws {ArgumentError} where bars of `source` cannot be put together to bars of the rule */
export function refuseFinerThan(source: Bars, { kind }: BarRule): void {
  const rows = source.time.length;
  if (rows === 0) return;
  // the middle one: the last of a day may be cut short, and one at a clock change may be long; a thousand rows tell it
  const step = Math.ceil(rows / 1000);
  const lengths = Float64Array.from(
    { length: Math.ceil(rows / step) },
    (_, i) => source.end[i * step] - source.time[i * step],
  ).sort();
  const length = lengths[lengths.length >> 1];
  const minutes = `${length / 60e6} minutes`;
  if (kind.by === 'interval') {
    if (kind.micros < length)
      throw new ArgumentError(
        'rule',
        `no finer than the records, which are bars of ${minutes}`,
        `${kind.micros / 60e6} minutes`,
      );
    if (kind.micros % length !== 0)
      throw new ArgumentError('rule', `a whole multiple of the records' ${minutes}`, `${kind.micros / 60e6} minutes`);
  } else if (kind.by === 'period' && kind.unit === 'day' && length > DAY + DAY / 24) {
    throw new ArgumentError('rule', 'no finer than the records, which are longer than a day', '1 day');
  }
}
