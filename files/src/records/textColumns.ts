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

/** Stored names of what a file brings begin so, and ours do not: no header can be taken for a column of ours. */
const OF_THE_FILE = 'text:';

/** Names that mean something in records, bars and formulas already. */
const OURS: ReadonlySet<string> = new Set([
  ...BAR_FIELDS,
  ...['price', 'size', 'side', 'bid', 'ask', 'bidSize', 'askSize', 'line', 'flags'],
  ...['complete', 'session', 'day', 'week', 'month', 'year', 'all', 'this', 'and', 'or', 'not', 'on', 'forming'],
]);

/** Text columns without words yet, for columns that a file calls so. */
export function newTextColumns(titles: readonly string[]): TextColumn[] {
  const taken = new Set<string>();
  return titles.map((title) => {
    let stem = title
      .normalize('NFKD')
      .replaceAll(/\W+/g, '_')
      .replaceAll(/^_+|_+$/g, '')
      .slice(0, 40);
    if (!/^[A-Za-z]/.test(stem)) stem = stem ? `text_${stem}` : 'text';
    if (OURS.has(stem)) stem += '_text';
    let name = stem;
    for (let number = 2; taken.has(name); number++) name = `${stem}_${number}`;
    taken.add(name);
    return { name, title, column: `${OF_THE_FILE}${name}`, words: [] };
  });
}

/** The columns of records in the order in which tables have them: what each is called, and what it is stored under. */
export function recordColumns({
  columns,
  texts,
}: {
  columns: readonly string[];
  texts: readonly TextColumn[];
}): { name: string; column: string; words?: readonly string[] }[] {
  const own = (isLast: boolean) =>
    columns.filter((name) => (name === 'line' || name === 'flags') === isLast).map((name) => ({ name, column: name }));
  return [...own(false), ...texts, ...own(true)];
}

/** The words' places of each text column in some records, by the names that bars and formulas have them by. */
export function textsIn(
  texts: readonly TextColumn[],
  columns: RecordColumns,
): Record<string, Float64Array> | undefined {
  if (texts.length === 0) return undefined;
  return Object.fromEntries(texts.map(({ name, column }) => [name, columns[column]]));
}
