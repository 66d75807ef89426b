import { ArgumentError, requireRising } from '../arguments.js';
import type { Quotes, Ticks } from '../records/ticks.js';
import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { isTimed, type BarRule } from './barKind.js';
import type { Bars, BuiltBars } from './bars.js';
import { joinStretches, type BarStretch } from './barStretches.js';
import type { BlockBuilder } from './blockBuilder.js';
import { BuildCourse } from './buildCourse.js';
import { fillEmpty } from './emptyIntervals.js';
import { printKind } from './phrase.js';
import { recordsOf, SINGLE_VALUES } from './records.js';
import { RunningBarBuilder } from './runningBars.js';
import { TimeBarBuilder } from './timeBars.js';
import { timedKind } from './timedKinds.js';

/**
 * Cuts a source that comes in blocks, each as `buildBars` takes it whole. Their order in time is not looked at: who keeps
 * records in blocks keeps them in order.
 * @see buildBars
 */
export class BarBuilder {
  private readonly builder: BlockBuilder;
  /** Names of the further numbers that records carry. */
  private numbers: readonly string[] = [];
  private records = 0;
  private coveredFrom: Instant = NaN;
  private coveredTo: Instant = NaN;

  /**
   * @param course  how many bars there may be, and who may stop their making
   * @param skip    records of the session that come first and are in no bar, where bars run over the days
   */
  constructor(
    private readonly rule: BarRule,
    private readonly calendar: Calendar,
    private readonly course = new BuildCourse(),
    skip = 0,
  ) {
    const { kind } = rule;
    refuseDates(rule, calendar);
    this.builder = isTimed(kind)
      ? new TimeBarBuilder(timedKind(kind).intervals(kind, calendar, rule.allHours), course)
      : new RunningBarBuilder(kind, rule, calendar, course, skip);
  }

  /** A block may be written over after this. */
  add(block: Ticks | Quotes | Bars): void {
    if (block.time.length === 0) return;
    if (block.numbers) this.numbers = Object.keys(block.numbers);
    const records = recordsOf(block, this.rule);
    const { time, end = time } = records;
    if (time.length === 0) return;
    if (this.records === 0) this.coveredFrom = time[0];
    this.coveredTo = end[end.length - 1];
    this.records += time.length;
    this.builder.add(records);
  }

  /**
   * The bars of all that was added. @throws {TooManyBarsError} before empty intervals are filled with more than there may be
   */
  finish(): BuiltBars {
    return this.barsFrom(0);
  }

  /** How many bars there are so far, without the empty intervals that are filled. */
  get bars(): number {
    return this.builder.bars;
  }

  /**
   * The bars of all that was added, from one of them on, counted without the empty intervals that are filled. More may be
   * added after it: the last bar may go on.
   */
  barsFrom(first: number): BuiltBars {
    return this.whole(withSingleValues(this.builder.barsFrom(first)), this.numbers);
  }

  /** The bars of all that was added, to be put together with those of what comes before and after. */
  stretch(): Omit<BarStretch, 'goesOn'> {
    const { records, coveredFrom, coveredTo, numbers } = this;
    return { bars: withSingleValues(this.builder.barsFrom(0)), records, coveredFrom, coveredTo, numbers };
  }

  /**
   * The bars of stretches that were cut apart at instants of `cutBefore`, in order, and are joinable: the same as without,
   * to the last bit.
   * @see StretchBuilder
   * @throws {TooManyBarsError} before empty intervals are filled with more than there may be
   */
  joined(stretches: readonly BarStretch[]): BuiltBars {
    const { bars, numbers } = joinStretches(this.rule, stretches);
    this.course.made(bars.time.length);
    return this.whole(bars, numbers);
  }

  private whole(bars: BuiltBars, numbers: readonly string[]): BuiltBars {
    return numbersApart(this.filled(bars), numbers);
  }

  private filled(bars: BuiltBars): BuiltBars {
    const { kind, empty, allHours } = this.rule;
    if (empty === 'skip' || !isTimed(kind)) return bars;
    return fillEmpty(bars, timedKind(kind).intervals(kind, this.calendar, allHours), empty, this.course);
  }
}

/** @throws {ArgumentError} for bars by the clock or the calendar of records that are only numbered */
function refuseDates({ kind }: BarRule, { undated }: Calendar): void {
  if (undated && isTimed(kind) && printKind(kind) !== '1 day')
    throw new ArgumentError(
      'rule',
      '`1 day` for a bar a period, or so many `trades`: the records have period numbers and no dates',
      printKind(kind),
    );
}

/** Bars whose prices are what the rule takes of single values, if it takes that. */
function withSingleValues(bars: BuiltBars): BuiltBars {
  if (!bars.texts || !(SINGLE_VALUES in bars.texts)) return bars;
  const { [SINGLE_VALUES]: values, ...texts } = bars.texts;
  // each a column of its own: a writer takes one that stands four times for one
  const [open, high, low] = [values.slice(), values.slice(), values.slice()];
  return { ...bars, open, high, low, close: values, texts };
}

/** Bars whose numbers stand apart from their words. */
function numbersApart(bars: BuiltBars, names: readonly string[]): BuiltBars {
  if (names.length === 0 || !bars.texts) return bars;
  const texts = { ...bars.texts };
  const numbers: Record<string, Float64Array> = {};
  for (const name of names) {
    numbers[name] = texts[name] ?? new Float64Array(bars.time.length).fill(NaN);
    delete texts[name];
  }
  return { ...bars, texts, numbers };
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
  if (rows === 0 || !isTimed(kind)) return;
  // the middle one: the last of a day may be cut short, and one at a clock change may be long; a thousand rows tell it
  const step = Math.ceil(rows / 1000);
  const lengths = Float64Array.from(
    { length: Math.ceil(rows / step) },
    (_, i) => source.end[i * step] - source.time[i * step],
  ).sort();
  const length = lengths[lengths.length >> 1];
  timedKind(kind).refuseFinerThan(kind, length);
}
