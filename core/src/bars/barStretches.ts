import type { Calendar } from '../time/calendar.js';
import type { Instant } from '../time/instant.js';
import { isTimed, type BarRule } from './barKind.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import { coveringRange } from './coveringRange.js';
import { firstFrom } from '../numeric/search.js';

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
  /** How many of the records that follow belong to its last bar; NaN where that is not known. */
  goesOn: number;
}

/** Whether bars run over the days, so that no instant parts them: they take so many trades, units, and so on. */
export const runsOn = ({ kind, restart }: BarRule): boolean => !isTimed(kind) && restart === 'never';

/**
 * The last instant up to `instant` at which records can be cut apart so that no bar has some of both sides, whatever came
 * before; `instant` itself where bars run on, and what they take of both sides is found out afterwards.
 * @returns undefined where there is none: periods are numbered, and have no instants
 */
export function cutBefore(rule: BarRule, calendar: Calendar, instant: Instant): Instant | undefined {
  if (calendar.undated) return undefined;
  if (isTimed(rule.kind))
    return coveringRange({ ...rule, empty: 'skip' }, calendar, { from: instant, to: Infinity })!.from;
  return runsOn(rule) ? instant : calendar.dayAt(instant).startsAt;
}

/** Whether it is known of stretches, in order of time, what the last bar of each takes of those that follow. */
export const areJoinable = (stretches: readonly BarStretch[]): boolean =>
  upToLast(stretches)
    .slice(0, -1)
    .every(({ goesOn }) => !Number.isNaN(goesOn));

/** The stretches up to the last that has records. */
const upToLast = (stretches: readonly BarStretch[]): readonly BarStretch[] =>
  stretches.slice(0, stretches.findLastIndex(({ records }) => records > 0) + 1);

/** The bars of a stretch that are those of the whole, as rows [from, to), and how many records lie before it. */
interface Part {
  bars: BuiltBars;
  from: number;
  to: number;
  before: number;
}

function partsOf(stretches: readonly BarStretch[]): Part[] {
  const parts: Part[] = [];
  let before = 0;
  let taken = 0;
  for (const { bars, records, goesOn } of stretches) {
    const { firstRecord } = bars;
    const isLast = parts.length === stretches.length - 1;
    const from = firstFrom(firstRecord, taken, 0);
    const to = isLast ? firstRecord.length : firstFrom(firstRecord, records + goesOn, from);
    parts.push({ bars, from, to, before });
    before += records;
    // a bar may be larger than the stretch
    taken = Math.max(goesOn, taken - records);
  }
  return parts.filter(({ from, to }) => to > from);
}

/** Puts the bars of stretches that are joinable together to what they are without having been cut apart. */
export function joinStretches(rule: BarRule, stretches: readonly BarStretch[]): Omit<BarStretch, 'goesOn'> {
  const filled = stretches.filter(({ records }) => records > 0);
  const [first = stretches[0], last = first] = [filled[0], filled.at(-1)];
  const parts = partsOf(upToLast(stretches));
  const count = parts.reduce((sum, { from, to }) => sum + to - from, 0);
  const column = (of: (bars: BuiltBars) => Float64Array) => {
    const all = new Float64Array(count);
    let at = 0;
    for (const { bars, from, to } of parts) {
      all.set(of(bars).subarray(from, to), at);
      at += to - from;
    }
    return all;
  };
  const indexes = (of: (bars: BuiltBars) => Float64Array) => {
    const all = new Float64Array(count);
    let at = 0;
    for (const { bars, from, to, before } of parts) {
      const own = of(bars);
      for (let row = from; row < to; row++) all[at++] = before + own[row];
    }
    return all;
  };
  const names = Object.keys(parts[0]?.bars.texts ?? {});
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
    } else bars.complete[count - 1] = parts.at(-1)!.bars.complete.at(-1)!;
  }
  return {
    ...{ bars, coveredFrom, coveredTo, numbers: filled.find(({ numbers }) => numbers.length > 0)?.numbers ?? [] },
    records: filled.reduce((sum, { records }) => sum + records, 0),
  };
}
