import { GrowingColumn, type BarRule, type BuiltBars, type Calendar } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { RecordColumns } from '../chunks/tapeChunk';
import type { StoredTape } from '../store/tapes';

/** Which records go into bars at all. */
type Takes = (columns: RecordColumns, row: number) => boolean;

/** What a rule takes of the records of a tape; undefined where it takes all. */
export function takesOf(tape: StoredTape, rule: BarRule, flagged: boolean): Takes | undefined {
  const wanted = rule.side && (rule.side === 'buy' ? 1 : -1);
  const mayBeEmpty = tape.kind === 'bars' && tape.columns.includes('trades');
  if (flagged && !wanted && !mayBeEmpty) return undefined;
  return ({ flags, side, trades }, row) =>
    (flagged || flags[row] === 0) && (!wanted || side[row] === wanted) && !(mayBeEmpty && trades[row] === 0);
}

/**
 * The records that one bar is made of, the first of them.
 * @param blocks    records of the tape in order; the first is number `firstRow` among those that the rule takes
 * @param calendar  whose session they have to lie in, unless the bars take all hours
 * @throws {Refusal} where there is no such bar
 */
export async function recordsOfBar(
  blocks: AsyncIterable<RecordColumns>,
  names: readonly string[],
  bars: BuiltBars,
  { row, limit, firstRow, takes }: { row: number; limit: number; firstRow: number; takes: Takes | undefined },
  calendar: Calendar | undefined,
): Promise<{ columns: Record<string, Float64Array>; more: boolean }> {
  if (row >= bars.time.length)
    throw refuse('invalid-query', `There are ${bars.time.length} bars; \`bar\` counts them from 0.`);
  const [first, end] = [bars.firstRecord[row], bars.endRecord[row]];
  const out = names.map((name) => ({ name, values: new GrowingColumn(64) }));
  let index = firstRow;
  let count = 0;
  for await (const columns of blocks) {
    const rows = columns.time.length;
    for (let at = 0; at < rows && index < end && count <= limit; at++) {
      if (takes && !takes(columns, at)) continue;
      // a bar that runs on over the night has none of it
      if (index++ < first || (calendar && !calendar.inSession(columns.time[at]))) continue;
      if (count++ < limit) for (const { name, values } of out) values.push(columns[name][at]);
    }
    if (index >= end || count > limit) break;
  }
  return {
    columns: Object.fromEntries(out.map(({ name, values }) => [name, values.toArray()])),
    more: count > limit,
  };
}
