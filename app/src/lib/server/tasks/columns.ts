import {
  BAR_FIELDS,
  barsBetween,
  evaluate,
  frameOf,
  makeCalendar,
  namesOf,
  planEntries,
  type Column,
  type OtherThread,
} from '@jaunty-ledger/core';
import { calendarOptions } from '$lib/api/tapes';
import type { Table, TableColumn } from '@jaunty-ledger/files/tables/table';
import { writeTable, type TableWriting } from '@jaunty-ledger/files/tables/tableWriter';
import type { StoredTape } from '../store/tapes';
import { refuse } from '$lib/api/problems';
import { barTable, refuseCells } from './barTable';
import { otherFrames } from './otherFrames';
import { barsWithin } from './tapeBars';
import type { Range } from './range';
import type { TaskKind } from './taskKind';

interface ColumnsInput {
  tape: StoredTape;
  rule: string;
  flagged: boolean;
  entries: string[];
  /** The bars that entries are worked out from. */
  alone: Range | undefined;
  /** Only rows on which every entry has a value. */
  complete: boolean;
  /** Those to give, in their order; all without. */
  columns: string[] | undefined;
  range: Range;
  writing: TableWriting;
}

/** A second thread for what is very long; whoever serves the tasks sets it. */
let other: OtherThread | undefined;
export const useOtherThread = (thread: OtherThread): void => void (other = thread);

/** Bars of a tape with a column for each entry. */
export const columns: TaskKind<ColumnsInput> = {
  // to work out an entry takes about as long as to read its records
  records: ({ tape, entries }) => tape.rows * (1 + entries.length),
  run: async (input, tools) => {
    const { tape, entries, range, writing } = input;
    const { course, limits } = tools;
    const { bars: all, rule } = await tools.bars.of(tape, input, course);
    const bars = input.alone ? barsBetween(all, input.alone.from, input.alone.to).bars : all;
    const calendar = makeCalendar(calendarOptions(tape));
    const [first, end] = barsWithin(bars, range);
    const others = await otherFrames(input, tools);
    const words = new Map(tape.texts.map((text) => [text.name, text.words]));
    const frame = frameOf(bars, calendar, { rule, others, tape: tape.name, words });
    // what would be too large to give is not worked out first
    const plans = planEntries(entries, namesOf(frame));
    refuseCells(
      (end - first) * (BAR_FIELDS.length + 1 + tape.texts.length + tape.numbers.length + plans.length),
      limits,
    );
    const found = evaluate(entries, frame, { progress: course.goOn, other });
    const results = found.map(({ name, values }): TableColumn => ({
      name,
      kind: 'numbers',
      values: values.subarray(first, end),
    }));
    const whole = [...barTable(tape, bars, range), ...results];
    const rows = input.complete ? completeRows(whole, results) : whole;
    const table = input.columns ? chosenColumns(rows, input.columns) : rows;
    const looksAhead = found.filter((column: Column) => column.looksAhead).map(({ name }) => name);
    const about = { tape: tape.name, version: tape.version, rule, looksAhead };
    return writeTable(table, { ...writing, about, goOn: course.goOn });
  },
};

/** The time, then the columns of some names. @throws {Refusal} where there is no such column */
function chosenColumns(table: Table, names: readonly string[]): Table {
  const others = [...new Set(names)].filter((name) => name !== 'time');
  return ['time', ...others].map((name) => {
    const column = table.find((one) => one.name === name);
    if (column) return column;
    const known = table.map((one) => one.name).join(', ');
    throw refuse('invalid-body', `No column is called ${name}; there are ${known}.`);
  });
}

/** The rows of a table on which each of some columns has a value. */
function completeRows(table: Table, needed: readonly TableColumn[]): Table {
  const rows = table[0].values.length;
  const kept = Uint32Array.from({ length: rows }, (_, row) => row).filter((row) =>
    needed.every(({ values }) => !Number.isNaN(values[row])),
  );
  return table.map((column): TableColumn => {
    if (column.kind === 'marks') return { ...column, values: Uint8Array.from(kept, (row) => column.values[row]) };
    return { ...column, values: Float64Array.from(kept, (row) => column.values[row]) };
  });
}
