import { BAR_FIELDS, type Bars } from '@jaunty-ledger/core';
import type { NumberColumn, TextColumn } from '../records/textColumns.js';
import type { Table } from './table.js';

/** Bars as a table for programs: rows [first, end), with the columns that their file brought. */
export function barTable(
  bars: Bars,
  own: { texts: readonly TextColumn[]; numbers: readonly NumberColumn[] },
  [first, end]: readonly [number, number] = [0, bars.time.length],
): Table {
  const missing = () => new Float64Array(end - first).fill(NaN);
  const figures = BAR_FIELDS.map((name) => {
    const kind = name === 'time' || name === 'end' ? ('instants' as const) : ('numbers' as const);
    return { name, kind, values: bars[name].subarray(first, end) };
  });
  const texts = own.texts.map(({ name, words }) => {
    const values = bars.texts?.[name]?.subarray(first, end) ?? missing();
    return { name, kind: 'words' as const, values, words };
  });
  const numbers = own.numbers.map(({ name }) => {
    const values = bars.numbers?.[name]?.subarray(first, end) ?? missing();
    return { name, kind: 'numbers' as const, values };
  });
  return [
    ...figures,
    ...numbers,
    { name: 'complete', kind: 'marks', values: bars.complete.subarray(first, end) },
    ...texts,
  ];
}
