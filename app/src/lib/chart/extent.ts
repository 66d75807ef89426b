/** Rows of a block whose least and greatest value are kept. */
const BLOCK = 16;

/** What an extent is found in: the columns of lows and of highs, one and the same for a line. */
export interface Ranged {
  low: Float64Array;
  high: Float64Array;
}

export const asRange = (values: Float64Array): Ranged => ({ low: values, high: values });

/** Least and greatest value of each block, so that a wide view costs pixels and not rows. */
interface Blocks {
  low: Float64Array;
  /** NaN where a block was not looked at yet; of one without values the least is above the greatest. */
  least: Float64Array;
  greatest: Float64Array;
}

/**
 * By the column of highs. A block is looked at when it is first in view: who turns a number looks at a few thousand rows of
 * a million, and then at those of another column.
 */
const kept = new WeakMap<Float64Array, Blocks>();

function blocksOf({ low, high }: Ranged): Blocks {
  const known = kept.get(high);
  if (known?.low === low) return known;
  const count = Math.floor(low.length / BLOCK);
  const blocks = { low, least: new Float64Array(count).fill(NaN), greatest: new Float64Array(count) };
  kept.set(high, blocks);
  return blocks;
}

/** Least and greatest value of rows [from, to) of columns that do not change; undefined where none is there. */
export function extentOf({ low, high }: Ranged, from: number, to: number): [number, number] | undefined {
  let min = Infinity;
  let max = -Infinity;
  let blocks: Blocks | undefined;
  for (let row = from; row < to;) {
    if (row % BLOCK === 0 && row + BLOCK <= to) {
      const { least, greatest } = (blocks ??= blocksOf({ low, high }));
      const block = row / BLOCK;
      if (Number.isNaN(least[block])) [least[block], greatest[block]] = extremes(low, high, row);
      if (least[block] < min) min = least[block];
      if (greatest[block] > max) max = greatest[block];
      row += BLOCK;
    } else {
      if (low[row] < min) min = low[row];
      if (high[row] > max) max = high[row];
      row++;
    }
  }
  return min <= max ? [min, max] : undefined;
}

function extremes(low: Float64Array, high: Float64Array, start: number): [number, number] {
  let [min, max] = [Infinity, -Infinity];
  for (let row = start; row < start + BLOCK; row++) {
    if (low[row] < min) min = low[row];
    if (high[row] > max) max = high[row];
  }
  return [min, max];
}
