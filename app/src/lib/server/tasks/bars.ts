import { barTable } from '@jaunty-ledger/files/tables/barTable';
import { writeTable, type TableWriting } from '@jaunty-ledger/files/tables/tableWriter';
import type { StoredTape } from '../store/tapeRows';
import { refuseCells } from './refuseCells';
import { barsWithin } from './tapeBars';
import { isWhole, recordsInRange, type Range } from './range';
import type { TaskKind } from './taskKind';

/** Bars of a tape. */
export const bars: TaskKind<{
  tape: StoredTape;
  rule: string;
  flagged: boolean;
  range: Range;
  writing: TableWriting;
}> = {
  records: ({ tape, range }) => recordsInRange(tape, range),
  bars: (input) => (isWhole(input.range) ? input : undefined),
  answerKey: ({ tape, rule, flagged, range, writing }) =>
    JSON.stringify([tape.id, tape.version, rule, flagged, range, writing]),
  run: async ({ tape, rule: text, flagged, range, writing }, { bars: tapeBars, course, limits }) => {
    const { bars: found, rule } = await tapeBars.of(tape, { rule: text, flagged }, course, range);
    const table = barTable(found, tape, barsWithin(found, range));
    refuseCells(table.length * table[0].values.length, limits);
    // records outside the session are counted over the whole tape only
    const about = { tape: tape.name, version: tape.version, rule, ...(isWhole(range) && { leftOut: found.leftOut }) };
    return writeTable(table, { ...writing, about, goOn: course.goOn });
  },
};
