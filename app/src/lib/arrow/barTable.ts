import { BAR_FIELDS, type Bars, type Frame, type TextColumns } from '@jaunty-ledger/core';
import { columnNamed, type Table } from '@jaunty-ledger/files/tables/table';

/* Tables of bars, as the server gives them. */

/** Columns of bars that formulas may use. */
export const BAR_COLUMNS: ReadonlySet<string> = new Set(
  BAR_FIELDS.filter((field) => field !== 'time' && field !== 'end'),
);

const figures = (table: Table, name: string): Float64Array => columnNamed(table, name)!.values as Float64Array;

/** The bars of a table. */
export function barsOf(table: Table): Bars {
  const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, figures(table, name)]));
  return {
    ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
    complete: columnNamed(table, 'complete')!.values as Uint8Array,
    texts: textsOf(table),
  };
}

/** Bars as formulas see them. */
export function frameOf(table: Table): Frame {
  return {
    time: figures(table, 'time'),
    end: figures(table, 'end'),
    columns: Object.fromEntries([...BAR_COLUMNS].map((name) => [name, figures(table, name)])),
    texts: textsOf(table),
  };
}

/** Words of the text columns, by column. */
export const wordsOf = (table: Table): ReadonlyMap<string, readonly string[]> =>
  new Map(table.flatMap((column) => (column.kind === 'words' ? [[column.name, column.words] as const] : [])));

const textsOf = (table: Table): TextColumns =>
  Object.fromEntries(table.flatMap(({ name, kind, values }) => (kind === 'words' ? [[name, values]] : [])));
