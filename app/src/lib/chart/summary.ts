/** Rows of a block of a summary. */
export const BLOCK = 64;

/** Least and greatest value of each block of a column, so that a wide view costs pixels and not rows. */
export interface Summary {
  least: Float64Array;
  greatest: Float64Array;
}

/** NaN in both where a block has no value. */
export function summarised(low: Float64Array, high = low): Summary {
  const blocks = Math.ceil(low.length / BLOCK);
  const least = new Float64Array(blocks).fill(NaN);
  const greatest = new Float64Array(blocks).fill(NaN);
  for (let block = 0; block < blocks; block++) {
    let min = Infinity;
    let max = -Infinity;
    const end = Math.min(low.length, (block + 1) * BLOCK);
    for (let row = block * BLOCK; row < end; row++) {
      if (low[row] < min) min = low[row];
      if (high[row] > max) max = high[row];
    }
    if (min <= max) {
      least[block] = min;
      greatest[block] = max;
    }
  }
  return { least, greatest };
}

/** What an extent is found in: two columns (one and the same for a line) and their summary. */
export interface Ranged {
  low: Float64Array;
  high: Float64Array;
  summary: Summary;
}

/** Least and greatest value of rows [from, to); undefined where none is there. Whole blocks are read from the summary. */
export function extentOf({ low, high, summary }: Ranged, from: number, to: number): [number, number] | undefined {
  let min = Infinity;
  let max = -Infinity;
  for (let row = from; row < to;) {
    if (row % BLOCK === 0 && row + BLOCK <= to) {
      const block = row / BLOCK;
      if (summary.least[block] < min) min = summary.least[block];
      if (summary.greatest[block] > max) max = summary.greatest[block];
      row += BLOCK;
    } else {
      if (low[row] < min) min = low[row];
      if (high[row] > max) max = high[row];
      row++;
    }
  }
  return min <= max ? [min, max] : undefined;
}
