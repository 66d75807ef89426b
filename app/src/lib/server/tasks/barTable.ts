import { BAR_FIELDS, type Bars } from '@jaunty-ledger/core';
import { refuse } from '$lib/api/problems';
import type { Table } from '@jaunty-ledger/files/tables/table';
import type { Limits } from '../limits';
import type { StoredTape } from '../store/tapes';
import { barsWithin } from './tapeBars';
import type { Range } from './range';

/** Bars as a table for programs: those that start in a range. */
export function barTable(tape: StoredTape, bars: Bars, range: Range): Table {
  const [first, end] = barsWithin(bars, range);
  const figures = BAR_FIELDS.map((name) => {
    const kind = name === 'time' || name === 'end' ? ('instants' as const) : ('numbers' as const);
    return { name, kind, values: bars[name].subarray(first, end) };
  });
  const texts = tape.texts.map(({ name, words }) => {
    const values = bars.texts?.[name]?.subarray(first, end) ?? new Float64Array(end - first).fill(NaN);
    return { name, kind: 'words' as const, values, words };
  });
  const numbers = tape.numbers.map(({ name }) => {
    const values = bars.numbers?.[name]?.subarray(first, end) ?? new Float64Array(end - first).fill(NaN);
    return { name, kind: 'numbers' as const, values };
  });
  return [
    ...figures,
    ...numbers,
    { name: 'complete', kind: 'marks', values: bars.complete.subarray(first, end) },
    ...texts,
  ];
}

/** @param found  figures of an answer @throws {Refusal} where they are too many */
export function refuseCells(found: number, { cells }: Limits): void {
  if (found > cells)
    throw refuse(
      'too-much-work',
      `The answer would hold ${found.toLocaleString('en')} figures; at most ${cells.toLocaleString('en')} are given at once. Ask for a range, with from and to.`,
    );
}
