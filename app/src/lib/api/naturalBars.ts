import {
  DAY,
  HOUR,
  instantOf,
  isTimed,
  MINUTE,
  parseBarRule,
  SECOND,
  timedKind,
  type Precision,
} from '@jaunty-ledger/core';
import { fittingOrSame } from './fittingRule';
import type { Tape } from './tapes';

/** What a tape may open with, by the length of its bars. */
const RULES = [
  ['1 second', SECOND],
  ['10 seconds', 10 * SECOND],
  ['1 minute', MINUTE],
  ['15 minutes', 15 * MINUTE],
  ['1 hour', HOUR],
  ['1 day', DAY],
  ['1 week', 7 * DAY],
  ['1 month', 30 * DAY],
  ['1 quarter', 91 * DAY],
  ['1 year', 365 * DAY],
] as const;
const USUAL = RULES.findIndex(([rule]) => rule === '15 minutes');
/** So few bars are no picture: shorter ones are taken. */
const FEW_BARS = 20;

/** Bars of dated values, and the shortest distance between two of them. */
const BARS_OF_DATES: Partial<Record<Precision, { rule: string; micros: number }>> = {
  day: { rule: '1 day', micros: DAY },
  month: { rule: '1 month', micros: 28 * DAY },
  quarter: { rule: '1 quarter', micros: 90 * DAY },
  year: { rule: '1 year', micros: 365 * DAY },
};

type Source = Pick<Tape, 'kind' | 'interval' | 'rows' | 'from' | 'to' | 'precision' | 'sharedTimes'>;

/** The bars that suit a tape: quarters of an hour, unless its records lie further apart or reach less far. */
export function naturalBars(tape: Source): string {
  const { kind, rows, from, to, precision, sharedTimes } = tape;
  if (kind !== 'series') return barsByLength(tape);
  if (sharedTimes === 'record') return '1 trade';
  const own = BARS_OF_DATES[precision];
  const isShared = own !== undefined && rows > (instantOf(to) - instantOf(from)) / own.micros + 1.5;
  // dates with several values: a bar is their sum, which its rule states
  const take = sharedTimes ?? (isShared ? 'sum' : 'last');
  const rule = own && (isShared || sharedTimes) ? own.rule : barsByLength(tape);
  return take === 'last' ? rule : `${rule}, take: ${take}`;
}

function barsByLength({ kind, interval, rows, from, to }: Source): string {
  const span = instantOf(to) - instantOf(from);
  // nights and weekends lie between records too, so the usual distance is somewhat less than the average one
  let least = 0.6 * (span / Math.max(1, rows - 1));
  if (kind === 'bars' && interval !== null) {
    const parsed = parseBarRule(interval).kind;
    least = isTimed(parsed) ? timedKind(parsed).micros(parsed) : 0;
    // records as long as that, or of a length that does not divide it, are taken as they are
    if (least >= RULES[USUAL][1] || RULES[USUAL][1] % least !== 0) return interval;
  }
  let at = USUAL;
  while (at + 1 < RULES.length && RULES[at][1] < least) at++;
  while (at > 0 && span > 0 && span / RULES[at][1] < FEW_BARS && RULES[at - 1][1] >= least) at--;
  return RULES[at][0];
}

/** Bars to go on with on another tape: the same where both are alike, else those that suit it. */
export function barsOnTape(rule: string, before: Tape | undefined, now: Tape | undefined): string {
  if (!now) return rule;
  return before && naturalBars(before) === naturalBars(now) ? fittingOrSame(rule, now) : naturalBars(now);
}
