import {
  barsBetween,
  evaluate,
  frameOf,
  instantOf,
  namesOf,
  planEntries,
  printBarRule,
  parseBarRule,
  type Column,
  type Frame,
  type Plan,
} from '@jaunty-ledger/core';
import { barTable } from '@jaunty-ledger/files/tables/barTable';
import type { Table, TableColumn } from '@jaunty-ledger/files/tables/table';
import { CommandError, EXIT } from '../errors';
import { sourceOf, type ReadingOptions } from '../options';
import type { Progress } from '../progress';
import { barsOfFile, type FileBars } from '../readFile';

/** What a command that cuts bars is told. */
export interface BarOptions extends ReadingOptions {
  from?: string;
  to?: string;
  withoutFlagged?: boolean;
}

function instant(name: string, text: string | undefined, open: number): number {
  if (text === undefined) return open;
  const at = instantOf(text);
  if (Number.isNaN(at))
    throw new CommandError(
      `--${name} is an instant such as 2026-02-02T08:30:00Z or a day such as 2026-02-02`,
      EXIT.usage,
    );
  return at;
}

/** The bars of a file that start in the range that is asked for. */
export async function barsAsked(
  file: string,
  rule: string,
  options: BarOptions,
  progress: Progress,
): Promise<FileBars & { rows: [number, number] }> {
  const [from, to] = [instant('from', options.from, -Infinity), instant('to', options.to, Infinity)];
  const found = await barsOfFile(sourceOf(file, options), { rule, flagged: !options.withoutFlagged }, progress);
  const { before } = barsBetween(found.bars, from, Infinity);
  const { before: end } = barsBetween(found.bars, to, Infinity);
  return { ...found, rows: [before, Math.max(before, end)] };
}

/** Entries over the bars of a file. */
export interface FileColumns extends FileBars {
  rows: [number, number];
  frame: Frame;
  plans: Plan[];
  columns: Column[];
}

export async function columnsOfFile(
  file: string,
  rule: string,
  entries: readonly string[],
  options: BarOptions,
  progress: Progress,
): Promise<FileColumns> {
  const found = await barsAsked(file, rule, options, progress);
  const { bars, calendar, tape } = found;
  const words = new Map(tape.reader.texts.map((text) => [text.name, text.words]));
  const name = /^[A-Za-z_]\w*$/.test(tape.name) ? tape.name : undefined;
  const frame = frameOf(bars, calendar, { rule: printBarRule(parseBarRule(rule)), tape: name, words });
  const plans = planEntries(entries, namesOf(frame));
  return { ...found, frame, plans, columns: evaluate(entries, frame) };
}

/** One column, on the rows that are asked for: the last of the entries, which the others are there for. A column of the bars may be one. */
export async function oneColumn(
  file: string,
  rule: string,
  entries: readonly string[],
  options: BarOptions,
  progress: Progress,
) {
  const last = entries[entries.length - 1].trim();
  // a word alone is a column of the bars, or an entry before it
  const named = /^\w+$/.test(last) ? [...entries.slice(0, -1), `its_value = ${last}`] : entries;
  const found = await columnsOfFile(file, rule, named, options, progress);
  const { plans, columns, rows, frame } = found;
  const own = plans.filter(({ entryIndex }) => entryIndex === named.length - 1);
  if (own.length !== 1) throw new CommandError(`${last} is a fan of ${own.length} lines; choose one of them.`);
  const { values } = columns.find(({ name }) => name === own[0].name)!;
  return { ...found, ...own[0], values: values.slice(...rows), time: frame.time.slice(...rows) };
}

/** The bars with a column for each entry. Projections stand on their own rows, which no bar has. */
export function tableOf({ bars, tape, rows, columns }: FileColumns, complete = false): Table {
  const own = columns.filter(({ ahead }) => ahead === 0);
  const whole = [
    ...barTable(bars, tape.reader, rows),
    ...own.map(({ name, values }): TableColumn => ({ name, kind: 'numbers', values: values.subarray(...rows) })),
  ];
  if (!complete) return whole;
  const kept = Array.from({ length: rows[1] - rows[0] }, (_, row) => row).filter((row) =>
    own.every(({ values }) => !Number.isNaN(values[rows[0] + row])),
  );
  return whole.map((column): TableColumn => {
    if (column.kind === 'marks') return { ...column, values: Uint8Array.from(kept, (row) => column.values[row]) };
    return { ...column, values: Float64Array.from(kept, (row) => column.values[row]) };
  });
}
