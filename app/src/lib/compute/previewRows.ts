import { FormulaError, frameRows, widest, Work, type Column, type Frame, type Plan } from '@jaunty-ledger/core';
import type { Drawn, Preview, RowRange, Wrong } from './protocol';

/** A preview is worth its time where it is of this share of the rows at most. */
const WORTH = 1 / 8;

/** Those of several values that an entry draws. */
export const drawnOf = ({ parts }: Plan, columns: readonly Column[]): Column[] =>
  columns.filter((_, index) => parts[index]?.drawn ?? true);

/**
 * What changed entries come to on some rows, ahead of all rows: a formula is made of a few hundred, and a page shows a
 * thousand of a million.
 * @param known    columns by the keys of their plans; an entry is changed if those of one of its plans are not among them
 * @param isShown  whether something of an entry is drawn, that what is seen can be written over
 * @returns        nothing of an entry that may be made of any row, and nothing at all where it would not be much less work
 */
export function previewsOf(
  frame: Frame,
  plans: readonly { plan: Plan; id: string }[],
  { known, isShown }: { known: ReadonlyMap<string, Column[]>; isShown: (id: string) => boolean },
  ranges: readonly RowRange[],
): Preview[] {
  const rows = frame.time.length;
  const fresh = plans.filter(({ plan }) => !known.has(plan.key));
  const changed = new Set(fresh.map(({ id }) => id).filter(isShown));
  for (const { plan, id } of fresh) if (!plan.reach) changed.delete(id);
  const reach = widest(fresh.filter(({ id }) => changed.has(id)).map(({ plan }) => plan.reach));
  if (ranges.length === 0 || changed.size === 0 || !reach) return [];
  const sources = ranges.map(([from, to]) => [Math.max(0, from - reach.before), Math.min(rows, to + reach.after)]);
  if (sources.reduce((sum, [first, end]) => sum + end - first, 0) > rows * WORTH) return [];
  /** The columns of each changed entry on a range. */
  const seenOn = ([from, to]: RowRange, [first, end]: number[]): Map<string, Float64Array[]> => {
    const work = new Work(
      frameRows(frame, first, end),
      plans.map(({ plan }) => plan),
    );
    const seen = new Map([...changed].map((id) => [id, [] as Float64Array[]]));
    for (const { plan, id } of plans) {
      const whole = known.get(plan.key);
      if (!whole && !plan.reach) continue;
      const columns = whole?.map((one) => ({ ...one, values: one.values.subarray(first, end) })) ?? work.compute(plan);
      for (const column of columns) work.keep(plan, column);
      seen.get(id)?.push(...drawnOf(plan, columns).map(({ values }) => values.slice(from - first, to - first)));
    }
    return seen;
  };
  try {
    const seen = ranges.map((range, index) => seenOn(range, sources[index]));
    const byRange = (id: string, column: number) =>
      seen.map((on, index) => ({ from: ranges[index][0], values: on.get(id)![column] }));
    return [...changed].map((id) => ({ id, columns: seen[0].get(id)!.map((_, column) => byRange(id, column)) }));
  } catch (error) {
    // it is told of when all rows are computed
    if (!(error instanceof FormulaError)) throw error;
    return [];
  }
}

/**
 * Results with what was seen written over what they were, where they are drawn. The memory of their columns is the same,
 * and is given away with them; what was known of the old columns does not hold for the new ones.
 */
export function withPreviews(
  results: ReadonlyMap<string, Drawn | Wrong>,
  previews: readonly Preview[],
): Map<string, Drawn | Wrong> {
  const next = new Map(results);
  for (const { id, columns } of previews) {
    const old = next.get(id);
    if (old?.state !== 'drawn' || old.columns.length !== columns.length) continue;
    next.set(id, {
      ...old,
      columns: old.columns.map((column, index) => {
        const values = new Float64Array(column.values.buffer as ArrayBuffer);
        for (const { from, values: part } of columns[index]) values.set(part, from);
        return { ...column, values };
      }),
    });
  }
  return next;
}
