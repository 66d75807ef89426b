import type { Unit } from '@jaunty-ledger/core';
import { BLOCK } from '$lib/chart/extent';
import type { DrawnBars } from '$lib/compute/protocol';
import type { PlottedPage } from './plottedPage';

/** One column of the table of rows. */
export interface RowColumn {
  name: string;
  title: string;
  values: Float64Array;
  unit: Unit;
  /** Whether it is an entry's, not one of the bars. */
  isEntry: boolean;
  /** Words, where the values are indices of such. */
  words?: readonly string[];
}

const UNITS: Partial<Record<string, Unit>> = { volume: 'units', value: 'value', trades: 'trades' };

/** The figures of the bars, then those of the entries in the order of the margins. */
export function rowColumns(
  { view, results, lanes }: Pick<PlottedPage, 'view' | 'results' | 'lanes'>,
  fields: readonly (keyof DrawnBars)[],
): RowColumn[] {
  const bars = view.bars!;
  const own = fields
    .filter((field) => field !== 'time' && field !== 'end')
    // of single values one column says all, with their sizes where they have some
    .filter((field) => !view.isSingle || field === 'close' || (field === 'volume' && bars.volume.some((x) => x > 0)))
    .map((name) => ({
      name: view.isSingle && name === 'close' ? 'value' : name,
      title: name,
      values: bars[name] as Float64Array,
      unit: UNITS[name] ?? 'price',
      isEntry: false,
    }));
  const texts = Object.entries(bars.texts ?? {}).map(([name, values]): RowColumn => ({
    name,
    title: `${name} of the last record`,
    values,
    unit: 'number',
    isEntry: false,
    words: bars.words.get(name),
  }));
  const numbers = Object.entries(bars.numbers ?? {}).map(([name, values]): RowColumn => ({
    name,
    title: `${name} of the last record`,
    values,
    unit: 'number',
    isEntry: false,
  }));
  const entries = lanes
    .flatMap((lane) => lane.entries)
    .flatMap(({ id, hidden }) => {
      const result = results.shown.get(id);
      if (hidden || result?.state !== 'drawn') return [];
      const { unit, phrase, columns } = result;
      return columns.map(({ name, values }) => ({ name, title: phrase, values, unit, isEntry: true }));
    });
  return [...own, ...numbers, ...texts, ...entries];
}

/** The next row after one that has no value; nothing where all have. */
export function nextBlank(values: Float64Array, after: number): number | undefined {
  for (let row = after + 1; row < values.length; row++) if (Number.isNaN(values[row])) return row;
  return undefined;
}

/** The next row that is the least or the greatest within a block's length on both sides. */
export function nextExtreme(values: Float64Array, after: number): number | undefined {
  for (let row = after + 1; row < values.length; row++) {
    if (Number.isNaN(values[row])) continue;
    let [isGreatest, isLeast] = [true, true];
    for (let at = Math.max(0, row - BLOCK); at < Math.min(values.length, row + BLOCK + 1); at++) {
      if (values[at] > values[row]) isGreatest = false;
      if (values[at] < values[row]) isLeast = false;
      if (!isGreatest && !isLeast) break;
    }
    if (isGreatest || isLeast) return row;
  }
  return undefined;
}
