import {
  GrowingColumn,
  makeCalendar,
  parseBarRule,
  rowFilter,
  type BuiltBars,
  type Calendar,
} from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import { calendarOptions } from '$lib/api/tapes';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { writeTable, type TableWriting } from '@jaunty-ledger/files/tables/tableWriter';
import { recordColumns } from '@jaunty-ledger/files/records/textColumns';
import { partOfRow } from '../store/chunks';
import type { StoredTape } from '../store/tapeRows';
import { blockOf } from './tapeBars';
import { recordsBetween, recordTable, withoutFlagged } from './tapeRecords';
import { WHOLE } from './range';
import type { TaskKind } from './taskKind';

/** The records that one bar is made of. */
export const barRecords: TaskKind<{
  tape: StoredTape;
  rule: string;
  flagged: boolean;
  /** The bar's row among all bars of the tape. */
  row: number;
  limit: number;
  writing: TableWriting;
}> = {
  records: ({ tape }) => tape.rows,
  run: async ({ tape, rule: text, flagged, row, limit, writing }, { store, bars: tapeBars, course }) => {
    const { bars } = await tapeBars.of(tape, { rule: text, flagged }, course);
    const rule = parseBarRule(text);
    // where all records go into bars those before can be counted without being read
    const takesAll = flagged && !rule.side && tape.kind !== 'bars';
    const start = takesAll ? await store.read((rows) => partOfRow(rows, tape, bars.firstRecord[row] ?? 0)) : undefined;
    const blocks = async function* () {
      for await (const all of recordsBetween(store, tape, WHOLE, { fromSequence: start?.sequence, course })) {
        const columns = flagged ? all : withoutFlagged(all);
        yield { columns, takes: rowFilter(rule, blockOf(tape, columns)) };
      }
    };
    const { columns, more } = await recordsOfBar(
      blocks(),
      recordColumns(tape).map(({ column }) => column),
      bars,
      { row, limit, firstRow: start?.firstRow ?? 0 },
      rule.allHours ? undefined : makeCalendar(calendarOptions(tape)),
    );
    const about = { tape: tape.name, version: tape.version, more };
    return writeTable(recordTable(tape, columns), { ...writing, about, goOn: course.goOn });
  },
};

/** Records in order, and which of them go into bars; all where it is not said. */
interface BarBlock {
  columns: RecordColumns;
  takes: ((row: number) => boolean) | undefined;
}

/**
 * The records that one bar is made of, the first of them.
 * @param blocks    the first record of these is number `firstRow` among those that go into bars
 * @param calendar  whose session they have to lie in, unless the bars take all hours
 * @throws {Refusal} where there is no such bar
 */
async function recordsOfBar(
  blocks: AsyncIterable<BarBlock>,
  names: readonly string[],
  bars: BuiltBars,
  { row, limit, firstRow }: { row: number; limit: number; firstRow: number },
  calendar: Calendar | undefined,
): Promise<{ columns: Map<string, Float64Array>; more: boolean }> {
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
  return { columns: new Map(out.map(({ name, values }) => [name, values.toArray()])), more: count > limit };
}
