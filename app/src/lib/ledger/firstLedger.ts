import { DAY, HOUR, instantOf, isTimed, MINUTE, parseBarRule, SECOND, timedKind } from '@jaunty-ledger/core';
import { firstLedger, type NewLedger } from '$lib/api/ledgers';
import type { Tape } from '$lib/api/tapes';

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

/**
 * The ledger that a tape opens with: quarters of an hour, unless the records lie further apart or reach less far; volume
 * where they tell of it; a line where each record is one value.
 */
export function ledgerFor(
  tape: Pick<Tape, 'name' | 'kind' | 'interval' | 'rows' | 'from' | 'to' | 'columns'>,
): NewLedger {
  const ledger = firstLedger(tape.name, firstRule(tape));
  const hasVolume = tape.columns.includes('size') || tape.columns.includes('volume');
  const lanes = ledger.body.lanes
    .filter(({ base }) => base !== 'volume' || hasVolume)
    .map((lane) => (lane.base === 'price' && tape.kind === 'series' ? { ...lane, bars: 'line' as const } : lane));
  return { ...ledger, body: { ...ledger.body, lanes } };
}

function firstRule({ kind, interval, rows, from, to }: Parameters<typeof ledgerFor>[0]): string {
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
