import { evaluate, FormulaError } from '@jaunty-ledger/core';
import type { RollRow } from '$lib/works/roll/work';

export const valueOf = (row: RollRow, name: string) => row.values.find((value) => value.name === name);
const lastOf = (row: RollRow, name: string): number => valueOf(row, name)?.last ?? NaN;

/**
 * The rows on which a condition holds: the last values of the entries stand under their names, as columns do in a formula.
 * @returns what is wrong with the condition, in words, where it is none
 */
export function filteredBy(rows: readonly RollRow[], names: readonly string[], condition: string): RollRow[] | string {
  if (condition.trim() === '') return [...rows];
  const words = names.filter((name) => /^[A-Za-z_]\w*$/.test(name));
  const columns = Object.fromEntries(words.map((name) => [name, Float64Array.from(rows, (row) => lastOf(row, name))]));
  const time = Float64Array.from(rows.keys());
  try {
    const [{ values }] = evaluate([`kept_rows = ${condition}`], { time, columns });
    return rows.filter((_, at) => values[at] > 0 || values[at] < 0);
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    return error.message;
  }
}

/** Rows by their tapes' names, or by the last values of an entry; those without one come last either way. */
export function sortedBy(rows: readonly RollRow[], name: string, isFalling: boolean): RollRow[] {
  const sign = isFalling ? -1 : 1;
  const byTape = (a: RollRow, b: RollRow) => a.tape.localeCompare(b.tape, 'en', { numeric: true });
  if (name === '') return [...rows].sort((a, b) => sign * byTape(a, b));
  return [...rows].sort((a, b) => {
    const [x, y] = [lastOf(a, name), lastOf(b, name)];
    if (Number.isNaN(x) || Number.isNaN(y)) return Number(Number.isNaN(x)) - Number(Number.isNaN(y)) || byTape(a, b);
    return sign * (x - y) || byTape(a, b);
  });
}

/** Least and greatest of the values on the way of all rows, for charts on one scale. */
export function commonExtent(rows: readonly RollRow[], name: string): [number, number] | undefined {
  let [least, greatest] = [Infinity, -Infinity];
  for (const row of rows)
    for (const value of valueOf(row, name)?.spark ?? []) {
      if (value === null) continue;
      least = Math.min(least, value);
      greatest = Math.max(greatest, value);
    }
  return least <= greatest ? [least, greatest] : undefined;
}

/** A line through values in a box, broken where one is missing. */
export function sparkPath(
  values: readonly (number | null)[],
  widthPx: number,
  heightPx: number,
  extent?: readonly [number, number],
): string {
  const there = values.filter((value) => value !== null);
  const [low, high] = extent ?? [Math.min(...there), Math.max(...there)];
  const step = widthPx / Math.max(1, values.length - 1);
  let path = '';
  let isOpen = false;
  values.forEach((value, at) => {
    if (value !== null) {
      const y = high > low ? ((high - value) / (high - low)) * (heightPx - 2) + 1 : heightPx / 2;
      path += `${isOpen ? 'L' : 'M'}${(at * step).toFixed(1)} ${y.toFixed(1)}`;
    }
    isOpen = value !== null;
  });
  return path;
}
