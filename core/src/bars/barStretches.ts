import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { isTimed, type BarRule } from './barKind.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import { coveringRange } from './coveringRange.js';

/** Bars of one of several stretches of a source, and what of the whole depends on it. */
export interface BarStretch {
  /** Without the empty intervals that are filled; what records carry, words and numbers, is all in `texts`. */
  bars: BuiltBars;
  /** Records that the rule takes, of which some may lie outside the session. */
  records: number;
  /** The first of these, and the end of the last; NaN where there is none. */
  coveredFrom: Instant;
  coveredTo: Instant;
  /** Which of the texts are numbers. */
  numbers: readonly string[];
}

/**
 * The last instant up to `instant` at which records can be cut apart so that no bar has some of both sides, whatever came
 * before; nothing where there is none: running totals go on over the days unless they restart with each.
 */
export function cutBefore(rule: BarRule, calendar: Calendar, instant: Instant): Instant | undefined {
  if (calendar.undated) return undefined;
  if (isTimed(rule.kind))
    return coveringRange({ ...rule, empty: 'skip' }, calendar, { from: instant, to: Infinity })!.from;
  return rule.restart === 'day' ? calendar.dayAt(instant).startsAt : undefined;
}

/** Puts the bars of stretches, in order of time, together to what they are without having been cut apart. */
export function joinStretches(rule: BarRule, stretches: readonly BarStretch[]): BarStretch {
  const filled = stretches.filter(({ records }) => records > 0);
  const [first = stretches[0], last = first] = [filled[0], filled.at(-1)];
  const withBars = filled.filter(({ bars }) => bars.time.length > 0);
  const count = withBars.reduce((sum, { bars }) => sum + bars.time.length, 0);
  const column = (of: (bars: BuiltBars) => Float64Array) => {
    const all = new Float64Array(count);
    let at = 0;
    for (const { bars } of withBars) {
      all.set(of(bars), at);
      at += bars.time.length;
    }
    return all;
  };
  const indexes = (of: (bars: BuiltBars) => Float64Array) => {
    const all = new Float64Array(count);
    let at = 0;
    let before = 0;
    for (const { bars, records } of filled) {
      const own = of(bars);
      for (let row = 0; row < own.length; row++) all[at++] = before + own[row];
      before += records;
    }
    return all;
  };
  const names = Object.keys(withBars[0]?.bars.texts ?? {});
  const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, column((bars) => bars[name])]));
  const bars: BuiltBars = {
    ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
    complete: new Uint8Array(count).fill(1),
    firstRecord: indexes(({ firstRecord }) => firstRecord),
    endRecord: indexes(({ endRecord }) => endRecord),
    leftOut: stretches.reduce((sum, { bars }) => sum + bars.leftOut, 0),
    ...(names.length > 0 && {
      texts: Object.fromEntries(names.map((name) => [name, column(({ texts }) => texts![name])])),
    }),
  };
  const { coveredFrom } = first;
  const { coveredTo } = last;
  if (count > 0) {
    // only the ends of the whole are covered in part
    if (isTimed(rule.kind)) {
      if (bars.end[count - 1] > coveredTo) bars.complete[count - 1] = 0;
      if (bars.time[0] < coveredFrom) bars.complete[0] = 0;
    } else bars.complete[count - 1] = withBars.at(-1)!.bars.complete.at(-1)!;
  }
  return {
    ...{ bars, coveredFrom, coveredTo, numbers: filled.find(({ numbers }) => numbers.length > 0)?.numbers ?? [] },
    records: filled.reduce((sum, { records }) => sum + records, 0),
  };
}
