import { BAR_COLUMNS, BAR_FIELDS, type Bars, type TextColumns } from '@jaunty-ledger/core';
import { columnNamed, type Table } from '@jaunty-ledger/files/tables/table';

/* Tables of bars, as the server gives them. */

const figures = (table: Table, name: string): Float64Array => columnNamed(table, name)!.values as Float64Array;

/** The bars of a table. */
export function barsOf(table: Table): Bars {
  const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, figures(table, name)]));
  return {
    ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
    complete: columnNamed(table, 'complete')!.values as Uint8Array,
    texts: textsOf(table),
    numbers: numbersOf(table),
  };
}

/** Words of the text columns, by column. */
export const wordsOf = (table: Table): ReadonlyMap<string, readonly string[]> =>
  new Map(table.flatMap((column) => (column.kind === 'words' ? [[column.name, column.words] as const] : [])));

const textsOf = (table: Table): TextColumns =>
  Object.fromEntries(table.flatMap(({ name, kind, values }) => (kind === 'words' ? [[name, values]] : [])));

/** Further numbers that the bars have beside those of every bar. */
const numbersOf = (table: Table): Record<string, Float64Array> =>
  Object.fromEntries(
    table.flatMap(({ name, kind, values }) =>
      kind === 'numbers' && !BAR_COLUMNS.has(name) ? [[name, values as Float64Array]] : [],
    ),
  );
