import {
  areJoinable,
  BarBuilder,
  BAR_FIELDS,
  BuildCourse,
  coveringRange,
  firstRowFrom,
  makeCalendar,
  parseBarRule,
  printBarRule,
  refuseFinerThan,
  RunningStarts,
  StretchBuilder,
  TooManyBarsError,
  type Bars,
  type BarStretch,
  type BuiltBars,
  type StretchSkips,
  type StretchStarts,
} from '@jaunty-ledger/core';
import { LRUCache } from 'lru-cache';
import { refuse } from '$lib/api/problems';
import { calendarOptions } from '$lib/api/tapes';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { DecodeRoom } from '../chunks/tapeChunk';
import { coreRecords, endsOf } from '@jaunty-ledger/files/records/coreRecords';
import type { Limits } from '../limits';
import type { Store } from '../store/store';
import type { StoredTape } from '../store/tapeRows';
import type { Course } from './course';
import { recordsBetween, rowsWithin, withoutFlagged } from './tapeRecords';
import { isWhole, WHOLE, type Range } from './range';
import { keptBars, stretchesOf, type BarChoice } from './tapeStretches';

/** Bars of tapes, cut from their records. Those that were cut last are kept, for other columns or stretches of the same. */
export class TapeBars {
  private readonly kept: LRUCache<string, BuiltBars>;

  constructor(
    private readonly store: Store,
    private readonly limits: Limits,
  ) {
    this.kept = new LRUCache({ maxSize: limits.keptBarsMegabytes * 2 ** 20, sizeCalculation: bytesOf });
  }

  /** Bars of a tape; where a range is wanted, perhaps only those in it and some about it. */
  async of(
    tape: StoredTape,
    { rule: text, flagged }: BarChoice,
    course: Course,
    wanted = WHOLE,
  ): Promise<{ bars: BuiltBars; rule: string }> {
    const parsed = parseBarRule(text);
    const rule = printBarRule(parsed);
    const key = JSON.stringify([tape.id, tape.version, rule, flagged]);
    const known = this.kept.get(key);
    if (known) return { bars: known, rule };
    const calendar = makeCalendar(calendarOptions(tape));
    const covering = coveringRange(parsed, calendar, wanted) ?? WHOLE;
    const builder = new BarBuilder(parsed, calendar, new BuildCourse(this.limits.bars, course.goOn));
    const whole = isWhole(covering);
    const stretches = whole ? await stretchesOf(this.store, tape, { rule, flagged }, this.limits) : [];
    const cut = stretches.length > 0 ? await keptBars(this.store, stretches) : undefined;
    const bars = await orTooMany(rule, async () => {
      if (cut && areJoinable(cut)) return builder.joined(cut);
      for await (const block of this.blocks(tape, { rule, flagged }, covering, course)) builder.add(block);
      return builder.finish();
    });
    if (!whole) return { bars: completeByTape(bars, tape), rule };
    this.kept.set(key, bars);
    return { bars, rule };
  }

  /** The bars of one of the stretches in which a tape is cut. */
  async stretchOf(
    tape: StoredTape,
    choice: BarChoice,
    course: Course,
    { range, skips }: { range: Range; skips: StretchSkips },
  ): Promise<BarStretch> {
    const calendar = makeCalendar(calendarOptions(tape));
    const parsed = parseBarRule(choice.rule);
    const builder = new StretchBuilder(parsed, calendar, new BuildCourse(this.limits.bars, course.goOn), skips);
    return orTooMany(printBarRule(parsed), async () => {
      await this.readStretch(builder, tape, choice, range, course);
      return builder.stretch();
    });
  }

  /** Where bars that run on begin behind a stretch, by where they begin in it. */
  async startsOf(tape: StoredTape, choice: BarChoice, course: Course, range: Range): Promise<StretchStarts> {
    const reader = new RunningStarts(parseBarRule(choice.rule), makeCalendar(calendarOptions(tape)));
    await this.readStretch(reader, tape, choice, range, course);
    return reader.starts();
  }

  /** Has a stretch read, and of what follows it as much as is wanted and no more than it is long itself. */
  private async readStretch(
    reader: StretchBuilder | RunningStarts,
    tape: StoredTape,
    choice: BarChoice,
    range: Range,
    course: Course,
  ): Promise<void> {
    let left = 0;
    for await (const block of this.blocks(tape, choice, range, course)) {
      reader.add(block);
      left += block.time.length;
    }
    if (!reader.wantsMore || range.to === Infinity) return;
    for await (const block of this.blocks(tape, choice, { from: range.to, to: Infinity }, course)) {
      reader.goOn(block);
      left -= block.time.length;
      if (!reader.wantsMore || left <= 0) return;
    }
  }

  /** The records of a tape in a range, as the core takes them. Each block is written over by the next. */
  private async *blocks(
    tape: StoredTape,
    { rule, flagged }: BarChoice,
    range: Range,
    course: Course,
  ): AsyncGenerator<ReturnType<typeof blockOf>> {
    const parsed = parseBarRule(rule);
    const without = flagged ? ['line', 'flags'] : ['line'];
    const wanted = { without, room: new DecodeRoom(), course };
    for await (const columns of recordsBetween(this.store, tape, range, wanted)) {
      const block = blockOf(tape, within(flagged ? columns : withoutFlagged(columns), range));
      if ('open' in block) refuseFinerThan(block, parsed);
      yield block;
    }
  }
}

/** @throws {Refusal} where there would be too many bars */
async function orTooMany<Result>(rule: string, work: () => Promise<Result>): Promise<Result> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof TooManyBarsError)) throw error;
    throw refuse('too-many-bars', `\`${rule}\`: ${error.message}.`, {}, { cause: error });
  }
}

const bytesOf = (bars: BuiltBars): number =>
  bars.time.byteLength * (BAR_FIELDS.length + 2 + Object.keys({ ...bars.texts, ...bars.numbers }).length) +
  bars.complete.byteLength +
  1;

/** The records of a block that lie in a range. */
function within(columns: RecordColumns, range: Range): RecordColumns {
  const [first, end] = rowsWithin(columns.time, range);
  if (first === 0 && end === columns.time.length) return columns;
  return Object.fromEntries(
    Object.entries(columns).map(([name, column]) => [name, column.subarray(first, end)]),
  ) as RecordColumns;
}

/** A stretch of bars is complete by what the whole tape covers, not by where the stretch was cut. */
function completeByTape(bars: BuiltBars, tape: StoredTape): BuiltBars {
  const last = Float64Array.of(tape.lastAt);
  const [coveredTo] = tape.kind === 'bars' ? endsOf(tape.interval!, last, makeCalendar(calendarOptions(tape))) : last;
  const complete = Uint8Array.from(bars.time, (start, row) =>
    start < tape.firstAt || bars.end[row] > coveredTo ? 0 : 1,
  );
  return { ...bars, complete };
}

/** Stored columns as the core takes them. */
export const blockOf = (tape: StoredTape, columns: RecordColumns) =>
  coreRecords(tape, columns, () => makeCalendar(calendarOptions(tape)));

/** The rows of some bars that lie in a range. */
export const barsWithin = ({ time }: Bars, { from, to }: Range): [number, number] => [
  firstRowFrom(time, from),
  firstRowFrom(time, to),
];
