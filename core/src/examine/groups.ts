import { isFinite } from '../windows/anchoredSums.js';
import { quantileOf } from './summary.js';
import { deviationsOf, squaresOf, sumOf } from '../numeric/deviations.js';

/** The values of rows that belong together. NaN where there is none. */
export interface GroupSummary {
  /** The number that its rows share. */
  group: number;
  count: number;
  missing: number;
  zeros: number;
  mean: number;
  stdev: number;
  min: number;
  quartiles: [number, number, number];
  max: number;
}

/**
 * A column in groups of its rows, in the order of their numbers.
 * @param x       values of any unit; missing ones are counted
 * @param groups  a number a row; rows without one belong to no group
 */
export function groupSummaries(x: Float64Array, groups: ArrayLike<number>): GroupSummary[] {
  const rows = new Map<number, { values: number[]; missing: number }>();
  for (let row = 0; row < x.length; row++) {
    if (!isFinite(groups[row])) continue;
    const own = rows.get(groups[row]) ?? { values: [], missing: 0 };
    rows.set(groups[row], own);
    if (isFinite(x[row])) own.values.push(x[row]);
    else own.missing++;
  }
  return [...rows]
    .sort(([a], [b]) => a - b)
    .map(([group, { values, missing }]) => ({ group, missing, ...figuresOf(Float64Array.from(values).sort()) }));
}

function figuresOf(sorted: Float64Array): Omit<GroupSummary, 'group' | 'missing'> {
  const count = sorted.length;
  return {
    count,
    zeros: sorted.filter((value) => value === 0).length,
    mean: sumOf(sorted) / count,
    stdev: count > 1 ? Math.sqrt(squaresOf(deviationsOf(sorted)) / (count - 1)) : NaN,
    min: sorted[0] ?? NaN,
    quartiles: [0.25, 0.5, 0.75].map((p) => quantileOf(sorted, p)) as [number, number, number],
    max: sorted[count - 1] ?? NaN,
  };
}
