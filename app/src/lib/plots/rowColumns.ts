import { decimalsOf, MOST_DECIMALS, type Unit } from '@jaunty-ledger/core';
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
  /** Decimal places of its figures, where its unit does not say them. */
  places?: number;
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
  const { priceDecimals } = view.tape;
  const own = fields
    .filter((field) => field !== 'time' && field !== 'end')
    // of single values one column says all, with their sizes where they have some
    .filter((field) => (bars[field] as Float64Array).some((x) => !Number.isNaN(x)))
    .filter((field) => !view.isSingle || field === 'close' || (field === 'volume' && bars.volume.some((x) => x > 0)))
    .map((name) => ({
      name: view.isSingle && name === 'close' ? 'value' : name,
      title: name,
      values: bars[name] as Float64Array,
      unit: UNITS[name] ?? ('price' as const),
      isEntry: false,
    }))
    .map((column) => withPlaces(column, priceDecimals));
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
    places: Math.min(MOST_DECIMALS, decimalsOf(sampleOf(values))),
  }));
  const entries = lanes
    .flatMap((lane) => lane.entries)
    .flatMap(({ id, hidden }) => {
      const result = results.shown.get(id);
      if (hidden || result?.state !== 'drawn') return [];
      const { unit, phrase, columns } = result;
      return columns.map(({ name, values }) =>
        withPlaces({ name, title: phrase, values, unit, isEntry: true }, priceDecimals),
      );
    });
  return [...own, ...numbers, ...texts, ...entries];
}

/** Values that are looked at for the places that a column needs. */
const SAMPLED = 500;
/** Places more than prices have, for what is worked out from them. */
const FURTHER_PLACES = 3;

const sampleOf = (values: Float64Array): Float64Array => {
  const step = Math.max(1, Math.floor(values.length / SAMPLED));
  return values.filter((x, row) => row % step === 0 && !Number.isNaN(x));
};

/** Prices are not cut: those of bars are shown in full, and what is worked out from them with some places more. */
function withPlaces(column: RowColumn, priceDecimals: number): RowColumn {
  if (column.unit !== 'price') return column;
  const needed = decimalsOf(sampleOf(column.values));
  const most = column.isEntry || column.name === 'vwap' ? priceDecimals + FURTHER_PLACES : MOST_DECIMALS;
  return { ...column, places: Math.max(priceDecimals, Math.min(needed, most)) };
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
