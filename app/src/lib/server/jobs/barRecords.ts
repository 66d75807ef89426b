import { GrowingColumn, type BuiltBars, type Calendar } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { RecordColumns } from '../chunks/tapeChunk';

/** Records in order, and which of them go into bars; all where it is not said. */
export interface BarBlock {
  columns: RecordColumns;
  takes: ((row: number) => boolean) | undefined;
}

/**
 * The records that one bar is made of, the first of them.
 * @param blocks    the first record of these is number `firstRow` among those that go into bars
 * @param calendar  whose session they have to lie in, unless the bars take all hours
 * @throws {Refusal} where there is no such bar
 */
export async function recordsOfBar(
  blocks: AsyncIterable<BarBlock>,
  names: readonly string[],
  bars: BuiltBars,
  { row, limit, firstRow }: { row: number; limit: number; firstRow: number },
  calendar: Calendar | undefined,
): Promise<{ columns: Record<string, Float64Array>; more: boolean }> {
  if (row >= bars.time.length)
    throw refuse('invalid-query', `There are ${bars.time.length} bars; \`bar\` counts them from 0.`);
  const [first, end] = [bars.firstRecord[row], bars.endRecord[row]];
  const out = names.map((name) => ({ name, values: new GrowingColumn(64) }));
  let index = firstRow;
  let count = 0;
  for await (const { columns, takes } of blocks) {
    const rows = columns.time.length;
    for (let at = 0; at < rows && index < end && count <= limit; at++) {
      if (takes && !takes(at)) continue;
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
