import { firstRowFrom } from '../numeric/search.js';
import { BAR_FIELDS, type Bars } from './bars.js';

/**
 * The bars that start within [from, to), as if the tape had no others: what is made of them begins there.
 * @returns copies of the columns, and how many bars lie before them
 */
export function barsBetween(bars: Bars, from: number, to: number): { bars: Bars; before: number } {
  const first = firstRowFrom(bars.time, from);
  const end = Math.max(first, firstRowFrom(bars.time, to));
  const all = (columns: Record<string, Float64Array> | undefined) =>
    columns &&
    Object.fromEntries(Object.entries(columns).map(([name, column]) => [name, column.slice(first, end)] as const));
  const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, bars[name].slice(first, end)]));
  return {
    bars: {
      ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
      complete: bars.complete.slice(first, end),
      texts: all(bars.texts as Record<string, Float64Array> | undefined),
      numbers: all(bars.numbers),
    },
    before: first,
  };
}
