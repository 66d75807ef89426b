import {
  BAR_FIELDS,
  barsBetween,
  barsToCome,
  entryFacts,
  evaluate,
  frameOf,
  makeCalendar,
  namesOf,
  parseBarRule,
  planEntries,
  type BarRule,
  type Bars,
  type Calendar,
  type Column,
  type OtherThread,
} from '@jaunty-ledger/core';
import { aliasesOf, calendarOptions } from '$lib/api/tapes';
import { barTable } from '@jaunty-ledger/files/tables/barTable';
import type { Table, TableColumn } from '@jaunty-ledger/files/tables/table';
import { writeTable, type TableWriting } from '@jaunty-ledger/files/tables/tableWriter';
import type { StoredTape } from '$lib/server/store/tapeRows';
import { refuse } from '$lib/api/problems';
import { refuseCells } from '$lib/server/tasks/refuseCells';
import { otherFrames } from '$lib/server/tasks/otherFrames';
import { barsWithin } from '$lib/server/tasks/tapeBars';
import type { Range } from '$lib/server/tasks/range';
import type { TaskKind } from '$lib/server/tasks/taskKind';

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
  /** The most rows that may be given. */
  most: number | undefined;
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
  bars: (input) => input,
  run: async (input, tools) => {
    const { tape, entries, range, writing } = input;
    const { course, limits } = tools;
    const { bars: all, rule } = await tools.bars.of(tape, input, course);
    const bars = input.alone ? barsBetween(all, input.alone.from, input.alone.to).bars : all;
    const calendar = makeCalendar(calendarOptions(tape));
    const [first, end] = barsWithin(bars, range);
    refuseRows(end - first, input.most);
    const others = await otherFrames(input, tools);
    const words = new Map(tape.texts.map((text) => [text.name, text.words]));
    const frame = frameOf(bars, calendar, { rule, others, tape: tape.name, words, aliases: aliasesOf(tape) });
    // what would be too large to give is not worked out first
    const plans = planEntries(entries, namesOf(frame));
    refuseCells(
      (end - first) * (BAR_FIELDS.length + 1 + tape.texts.length + tape.numbers.length + plans.length),
      limits,
    );
    const found = evaluate(entries, frame, { progress: course.goOn, other });
    const toCome = barsAhead(
      bars,
      parseBarRule(rule),
      calendar,
      Math.max(0, ...found.map(({ ahead }) => ahead)),
      range,
    );
    const results = found.map(({ name, values, ahead }): TableColumn => ({
      name,
      kind: 'numbers',
      values: laterBy(ahead, values, end + toCome.time.length).subarray(first),
    }));
    const whole = [...withRowsToCome(barTable(bars, tape, barsWithin(bars, range)), toCome), ...results];
    const rows = input.complete
      ? completeRows(
          whole,
          results.filter((_, at) => found[at].ahead === 0),
          end - first,
        )
      : whole;
    const table = input.columns ? chosenColumns(rows, input.columns) : rows;
    const looksAhead = found.filter((column: Column) => column.looksAhead).map(({ name }) => name);
    // which words each column can be told in
    const told = plans
      .flatMap((plan) => entryFacts(plan))
      .map(({ lag, ...facts }) => ({
        ...facts,
        lag: Number.isNaN(lag) ? null : lag,
      }));
    const about = { tape: tape.name, version: tape.version, rule, looksAhead, entries: told };
    return writeTable(table, { ...writing, about, goOn: course.goOn });
  },
};

function refuseRows(rows: number, most = Infinity): void {
  if (rows > most)
    throw refuse(
      'too-much-work',
      `These are ${rows.toLocaleString('en')} rows; ${most.toLocaleString('en')} at most are of use here. Take a shorter stretch, or longer bars.`,
    );
}

/** Starts and ends of bars to come, within a range that goes on behind the last bar. */
function barsAhead({ time }: Bars, rule: BarRule, calendar: Calendar, count: number, range: Range) {
  const { start, end } = barsToCome(rule, calendar, time[time.length - 1] ?? NaN, count);
  const wanted = start.filter((at) => at < range.to).length;
  return { time: start.subarray(0, wanted), end: end.subarray(0, wanted) };
}

/** A column drawn so many rows later, over so many rows in all. */
function laterBy(ahead: number, values: Float64Array, rows: number): Float64Array {
  if (ahead === 0 && rows <= values.length) return values.subarray(0, rows);
  return Float64Array.from({ length: rows }, (_, row) => values[row - ahead] ?? NaN);
}

/** A table of bars with rows that have a time and an end, and nothing else. */
function withRowsToCome(table: Table, toCome: { time: Float64Array; end: Float64Array }): Table {
  const count = toCome.time.length;
  if (count === 0) return table;
  return table.map((column): TableColumn => {
    if (column.kind === 'marks') {
      const values = new Uint8Array(column.values.length + count);
      values.set(column.values);
      return { ...column, values };
    }
    const values = new Float64Array(column.values.length + count).fill(NaN);
    values.set(column.values);
    if (column.name === 'time' || column.name === 'end') values.set(toCome[column.name], column.values.length);
    return { ...column, values };
  });
}

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

/** The rows of a table on which each of some columns has a value; all behind so many, which are rows to come. */
function completeRows(table: Table, needed: readonly TableColumn[], bars: number): Table {
  const rows = table[0].values.length;
  const kept = Uint32Array.from({ length: rows }, (_, row) => row).filter(
    (row) => row >= bars || needed.every(({ values }) => !Number.isNaN(values[row])),
  );
  return table.map((column): TableColumn => {
    if (column.kind === 'marks') return { ...column, values: Uint8Array.from(kept, (row) => column.values[row]) };
    return { ...column, values: Float64Array.from(kept, (row) => column.values[row]) };
  });
}
