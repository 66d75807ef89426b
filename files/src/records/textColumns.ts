import { BAR_FIELDS } from '@jaunty-ledger/core';
import type { RecordColumns } from './recordColumns.js';

/** A column of words that a file brought with it. Records hold the place of a word among `words`. */
export interface TextColumn {
  /** What it is called in tables and formulas: a plain word, and no name of ours. */
  name: string;
  /** What the file calls it. */
  title: string;
  /** What it is stored under. */
  column: string;
  words: string[];
}

/** A column of numbers of the file's own, beside those that records of its kind have. */
export type NumberColumn = Omit<TextColumn, 'words'>;

/** Stored names of what a file brings begin so, and ours do not: no header can be taken for a column of ours. */
const TEXT_OF_FILE = 'text:';
const NUMBER_OF_FILE = 'number:';

/** Names that mean something in records, bars and formulas already. */
const OURS: ReadonlySet<string> = new Set([
  ...BAR_FIELDS,
  ...['price', 'size', 'side', 'bid', 'ask', 'bidSize', 'askSize', 'line', 'flags'],
  ...['complete', 'session', 'day', 'week', 'month', 'year', 'all', 'this', 'and', 'or', 'not', 'on', 'forming'],
]);

/** Columns of the file's own under names that no other one has: those of words, without words yet, then those of numbers. */
export function newFileColumns(
  words: readonly string[],
  figures: readonly string[],
): { texts: TextColumn[]; numbers: NumberColumn[] } {
  const taken = new Set<string>();
  const nameFor = (title: string, kind: 'text' | 'number'): string => {
    let stem = title
      .normalize('NFKD')
      .replaceAll(/\W+/g, '_')
      .replaceAll(/^_+|_+$/g, '')
      .slice(0, 40);
    if (!/^[A-Za-z]/.test(stem)) stem = stem ? `${kind}_${stem}` : kind;
    if (OURS.has(stem)) stem += `_${kind}`;
    let name = stem;
    for (let number = 2; taken.has(name); number++) name = `${stem}_${number}`;
    taken.add(name);
    return name;
  };
  const texts = words.map((title) => {
    const name = nameFor(title, 'text');
    return { name, title, column: `${TEXT_OF_FILE}${name}`, words: [] };
  });
  const numbers = figures.map((title) => {
    const name = nameFor(title, 'number');
    return { name, title, column: `${NUMBER_OF_FILE}${name}` };
  });
  return { texts, numbers };
}

/** The columns of records in the order in which tables have them: what each is called, and what it is stored under. */
export function recordColumns({
  columns,
  texts,
  numbers,
}: {
  columns: readonly string[];
  texts: readonly TextColumn[];
  numbers: readonly NumberColumn[];
}): { name: string; column: string; words?: readonly string[] }[] {
  const own = (isLast: boolean) =>
    columns.filter((name) => (name === 'line' || name === 'flags') === isLast).map((name) => ({ name, column: name }));
  return [...own(false), ...texts, ...numbers, ...own(true)];
}

/** Columns of the file's own in some records, by the names that bars and formulas have them by; nothing where there are none. */
export function fileColumnsIn(
  own: readonly NumberColumn[],
  columns: RecordColumns,
): Record<string, Float64Array> | undefined {
  if (own.length === 0) return undefined;
  return Object.fromEntries(own.map(({ name, column }) => [name, columns[column]]));
}
