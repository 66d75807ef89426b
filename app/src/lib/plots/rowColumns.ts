import { decimalsOf, MOST_DECIMALS, type Unit } from '@jaunty-ledger/core';
import type { DrawnBars } from '$lib/compute/protocol';
import { shiftOf } from './laneModel';
import type { PlottedPage } from './plottedPage';

/** One column of the table of rows. */
export interface RowColumn {
  /** What it is called where it is chosen, and in files. */
  key: string;
  name: string;
  title: string;
  values: Float64Array;
  unit: Unit;
  /** The entry it is of; none for those of the bars. */
  entryId?: string;
  /** Rows that it is drawn later than it is worked out on. */
  shift: number;
  /** Decimal places of its figures, where its unit does not say them. */
  places?: number;
  /** Words, where the values are indices of such. */
  words?: readonly string[];
}

const UNITS: Partial<Record<string, Unit>> = { volume: 'units', value: 'value', trades: 'trades' };

/** The value that stands in a row: of a column that is drawn later that of an earlier row. */
export const valueIn = ({ values, shift }: RowColumn, row: number): number => values[row - shift] ?? NaN;

/** Those of some columns that were chosen, in the order of the choice; all without one. What is gone is passed over. */
export function chosenOf(columns: readonly RowColumn[], keys: readonly string[] | null): RowColumn[] {
  if (keys === null) return [...columns];
  return keys.flatMap((key) => columns.filter((column) => column.key === key).slice(0, 1));
}

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
      key: name as string,
      name: view.isSingle && name === 'close' ? (view.tape.valueName ?? 'value') : name,
      title: name,
      values: bars[name] as Float64Array,
      unit: UNITS[name] ?? ('price' as const),
      shift: 0,
    }))
    .map((column) => withPlaces(column, priceDecimals));
  const texts = Object.entries(bars.texts ?? {}).map(([name, values]): RowColumn => ({
    key: name,
    name,
    title: `${name} of the last record`,
    values,
    unit: 'number',
    shift: 0,
    words: bars.words.get(name),
  }));
  const numbers = Object.entries(bars.numbers ?? {}).map(([name, values]): RowColumn => ({
    key: name,
    name,
    title: `${name} of the last record`,
    values,
    unit: 'number',
    shift: 0,
    places: Math.min(MOST_DECIMALS, decimalsOf(sampleOf(values))),
  }));
  const entries = lanes
    .flatMap((lane) => lane.entries)
    .flatMap((entry) => {
      const { id, hidden } = entry;
      const result = results.shown.get(id);
      const shift = shiftOf(entry, result);
      if (hidden || result?.state !== 'drawn') return [];
      const { unit, phrase, columns } = result;
      return columns.map(({ name, values }) =>
        withPlaces({ key: name, name, title: phrase, values, unit, entryId: id, shift }, priceDecimals),
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
  const most = column.entryId !== undefined || column.name === 'vwap' ? priceDecimals + FURTHER_PLACES : MOST_DECIMALS;
  return { ...column, places: Math.max(priceDecimals, Math.min(needed, most)) };
}

/** The next row after one that has no value; nothing where all have. */
export function nextBlank(values: Float64Array, after: number): number | undefined {
  for (let row = after + 1; row < values.length; row++) if (Number.isNaN(values[row])) return row;
  return undefined;
}

/** Rows on each side that an extreme is one among. */
const ABOUT = 64;

/** The next row that is the least or the greatest among those about it. */
export function nextExtreme(values: Float64Array, after: number): number | undefined {
  for (let row = after + 1; row < values.length; row++) {
    if (Number.isNaN(values[row])) continue;
    let [isGreatest, isLeast] = [true, true];
    for (let at = Math.max(0, row - ABOUT); at < Math.min(values.length, row + ABOUT + 1); at++) {
      if (values[at] > values[row]) isGreatest = false;
      if (values[at] < values[row]) isLeast = false;
      if (!isGreatest && !isLeast) break;
    }
    if (isGreatest || isLeast) return row;
  }
  return undefined;
}
