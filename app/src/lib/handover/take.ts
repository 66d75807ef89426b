import { splitEntry } from '@jaunty-ledger/core';
import { z } from 'zod';
import {
  LineFacts,
  MOST_KEPT_ROWS,
  type Cell,
  type Kept,
  type Origin,
  type Setting,
  type Table,
  type ToldCheck,
  type ToldTable,
} from '$lib/api/handovers';
import type { ColumnsBody } from '$lib/works/columns/work';
import type { Tape, TapeDetails } from '$lib/api/tapes';
import { own } from './own';

/* What blocks keep of an answer of `POST /api/columns`. */

/** What is told of a tape beside its figures. */
export type TapeTold = Pick<Tape, 'name' | 'zone' | 'precision' | 'unit' | 'priceDecimals'> &
  Partial<Pick<Tape, 'kind' | 'valueName'>> & {
    report: Pick<TapeDetails['report'], 'file' | 'sha256'>;
    appended?: readonly Pick<TapeDetails['report'], 'file' | 'sha256'>[];
  };

export const ToldColumns = z.object({
  version: z.number().int(),
  entries: z.array(LineFacts),
  columns: z.record(z.string(), z.array(z.union([z.string(), z.number(), z.null()]))),
});
export type ToldColumns = z.infer<typeof ToldColumns>;
type Facts = z.infer<typeof LineFacts>;

/** What is asked where there is no entry: the interface wants one at least. */
const NO_ENTRY = 'close_of_bar = close';

/** The question whose answer blocks of a setting are taken from. @param further  entries beside its own */
export const columnsBodyOf = (setting: Setting, further: readonly string[] = []): ColumnsBody => {
  const { tape, bars, flagged, entries, from, to, alone } = setting;
  const all = [...entries, ...further];
  return {
    ...{ tape, bars, flagged, entries: all.length > 0 ? all : [NO_ENTRY] },
    ...(from && { from }),
    ...(to && { to }),
    ...(alone && { alone: { ...(alone.from && { from: alone.from }), ...(alone.to && { to: alone.to }) } }),
    most: MOST_TAKEN_ROWS,
  };
};

/** More rows than these take a page longer than anybody waits; a chart shows far fewer. */
const MOST_TAKEN_ROWS = 100_000;

/** Columns of bars that a block may show, and what they are measured in. */
const OF_BARS: readonly (readonly [name: string, unit: Facts['unit'], phrase: string])[] = [
  ['open', 'price', 'the first price of the bar'],
  ['high', 'price', 'the highest price of the bar'],
  ['low', 'price', 'the lowest price of the bar'],
  ['close', 'price', 'the last price of the bar'],
  ['volume', 'units', 'what was traded in the bar'],
];

/** Facts of every column that a block of an answer may show: those of the bars that have values, and those of the entries. */
export function factsOf({ entries, columns }: ToldColumns): Facts[] {
  const ofBars = OF_BARS.filter(([name]) => own(columns, name)?.some((value) => value !== null)).map(
    ([name, unit, phrase]): Facts => ({ name, unit, phrase, looksAhead: false, role: 'other', lag: null }),
  );
  const ofEntries = entries.filter(({ name }) => name !== splitEntry(NO_ENTRY).name && own(columns, name));
  return [...ofBars, ...ofEntries];
}

export const numbersOf = ({ columns }: ToldColumns, name: string): (number | null)[] =>
  (own(columns, name) ?? []).map((value) => (typeof value === 'number' ? value : null));
const timesOf = ({ columns }: ToldColumns): string[] => columns.time.map(String);

/** The last row that has records: rows to come, which a projection goes on over, have none. */
export function lastRowOf(answer: ToldColumns): number {
  const { close, value } = answer.columns;
  const there = close ?? value ?? [];
  return there.findLastIndex((figure) => figure !== null);
}

export function originOf(setting: Setting, answer: ToldColumns, tape: TapeTold, at: string): Origin {
  const time = timesOf(answer);
  const last = lastRowOf(answer);
  const later = tape.appended ?? [];
  const { sha256 } = later.at(-1) ?? tape.report;
  const file = [tape.report, ...later].map((one) => one.file).join(', ');
  return {
    ...{ tape: tape.name, bars: setting.bars, version: answer.version, file, sha256 },
    ...{ unit: tape.unit, decimals: tape.priceDecimals, zone: tape.zone, precision: tape.precision },
    ...{ from: time[0] ?? '', to: time[Math.max(0, last)] ?? '', rows: last + 1, at },
  };
}

/** The columns that a chart keeps. Of more rows than it may keep, the least and the greatest of each few. */
export function keptOf(
  setting: Setting,
  answer: ToldColumns,
  tape: TapeTold,
  wanted: readonly string[],
  at: string,
): Kept {
  const facts = factsOf(answer).filter(({ name }) => wanted.includes(name));
  const time = timesOf(answer);
  const each = time.length <= MOST_KEPT_ROWS ? 1 : Math.ceil((2 * time.length) / (MOST_KEPT_ROWS - 6));
  // the last bar, and the last one to come
  const alone = [lastRowOf(answer), time.length - 1];
  const columns = facts.map(({ name }) => [name, numbersOf(answer, name)] as const);
  const formulas = setting.entries.map((text) => splitEntry(text));
  return {
    origin: originOf(setting, answer, tape, at),
    ...(each === 1
      ? { each, time, columns: Object.fromEntries(columns) }
      : {
          each,
          time: pairsOf(time, each, alone, (group) => [group[0], group[group.length >> 1]]),
          columns: Object.fromEntries(
            columns.map(([name, values]) => [name, pairsOf(values, each, alone, extremesOf)]),
          ),
        }),
    facts,
    formulas: Object.fromEntries(formulas.map(({ name, formula }) => [name, formula])),
    short: Object.fromEntries(
      columns.flatMap(([name, values]) => {
        const first = values.findIndex((value) => value !== null);
        const isToCome = facts.find((one) => one.name === name)!.role === 'projection' || first > lastRowOf(answer);
        return first > 0 && !isToCome ? [[name, first] as const] : [];
      }),
    ),
  };
}

/** Two rows of each group of `each`; the rows in `alone` are kept as they are. */
function pairsOf<T>(
  rows: readonly T[],
  each: number,
  alone: readonly number[],
  pair: (group: readonly T[]) => [T, T],
): T[] {
  const out: T[] = [];
  for (let from = 0, to = 0; from < rows.length; from = to) {
    const end = alone.includes(from) ? from + 1 : (alone.find((row) => row > from) ?? rows.length);
    to = Math.min(from + each, end);
    const group = rows.slice(from, to);
    if (group.length === 1) out.push(group[0]);
    else out.push(...pair(group));
  }
  return out;
}

/** The least and the greatest value, in the order in which they came. */
function extremesOf(group: readonly (number | null)[]): [number | null, number | null] {
  let [least, greatest] = [-1, -1];
  group.forEach((value, at) => {
    if (value === null) return;
    if (least < 0 || value < group[least]!) least = at;
    if (greatest < 0 || value > group[greatest]!) greatest = at;
  });
  if (least < 0) return [null, null];
  return least < greatest ? [group[least], group[greatest]] : [group[greatest], group[least]];
}

/** Columns that a table shows: those that were chosen, else the price and what the entries give. */
function shownIn(table: Pick<Table, 'columns'>, answer: ToldColumns): Facts[] {
  const all = factsOf(answer);
  if (table.columns.length > 0) return table.columns.flatMap((name) => all.find((one) => one.name === name) ?? []);
  const ofEntries = new Set(answer.entries.map(({ name }) => name));
  return all.filter(({ name }) => name === 'close' || ofEntries.has(name)).slice(0, 12);
}

export function toldTableOf(table: Table, answer: ToldColumns, tape: TapeTold, at: string): ToldTable {
  const origin = originOf(table.setting, answer, tape, at);
  const shown = shownIn(table, answer);
  const last = lastRowOf(answer);
  const time = timesOf(answer);
  const columns = shown.map(({ name }) => numbersOf(answer, name));
  const facts = Object.fromEntries(shown.map(({ name, unit }) => [name, unit]));
  const entries = new Set(answer.entries.map(({ name }) => name));
  const phrases = Object.fromEntries(
    shown.filter(({ name }) => entries.has(name)).map(({ name, phrase }) => [name, phrase]),
  );
  if (table.shows === 'rows') {
    const from = Math.max(0, last + 1 - table.count);
    return {
      origin,
      ...{ facts, phrases },
      head: ['time', ...shown.map(({ name }) => name)],
      units: [null, ...shown.map(({ unit }) => unit)],
      rows: time
        .slice(from, last + 1)
        .map((when, row): Cell[] => [when, ...columns.map((values) => values[from + row])]),
    };
  }
  const head = ['latest values', 'now', `${table.count} rows before`, 'min', 'max'];
  return {
    ...{ origin, facts, phrases },
    head,
    units: head.map(() => null),
    rows: shown.map(({ name }, at): Cell[] => {
      const values = columns[at].slice(0, last + 1);
      const there = values.filter((value) => value !== null);
      const range = there.length > 0 ? [leastOf(there), greatestOf(there)] : [null, null];
      return [name, values[last] ?? null, values[last - table.count] ?? null, ...range];
    }),
  };
}

const leastOf = (values: readonly number[]) => values.reduce((a, b) => Math.min(a, b));
const greatestOf = (values: readonly number[]) => values.reduce((a, b) => Math.max(a, b));

/** Rows of a mean that are listed; of a longer one its own last rows are told. */
const MOST_LISTED = 60;

/** What a plain mean of the last rows is of, and of how many: `close` and 20 of `mean(close, 20 bars)`. */
function meanOf(setting: Setting, column: string): { of: string; count: number } | undefined {
  const formula = setting.entries.map((text) => splitEntry(text)).find(({ name }) => name === column)?.formula;
  const [, of, rows] = /^\s*mean\(\s*([A-Za-z_]\w*)\s*,\s*(\d+)\s+bars?\s*\)\s*$/.exec(formula ?? '') ?? [];
  return of && Number(rows) <= MOST_LISTED ? { of, count: Number(rows) } : undefined;
}

/** The last value of a column with the rows that make it, or else its own last rows. Nothing where there is no such column. */
export function toldCheckOf(
  { setting, column, count }: { setting: Setting; column: string; count: number },
  answer: ToldColumns,
  tape: TapeTold,
  at: string,
): ToldCheck | null {
  const facts = factsOf(answer).find(({ name }) => name === column);
  if (!facts) return null;
  const last = lastRowOf(answer);
  const made = meanOf(setting, column);
  const { of, count: rows } = made && own(answer.columns, made.of) ? made : { of: column, count };
  const from = Math.max(0, last + 1 - rows);
  return {
    origin: originOf(setting, answer, tape, at),
    ...{ phrase: facts.phrase, unit: facts.unit, of },
    value: numbersOf(answer, column)[last] ?? null,
    time: timesOf(answer).slice(from, last + 1),
    values: numbersOf(answer, of).slice(from, last + 1),
  };
}
