/** Where a price stands against a line, and since when. */
export interface Standing {
  side: 'above' | 'below' | 'at';
  /** First row of the stretch in which it has stood there without a break. */
  since: number;
  /** Rows of that stretch, the last one included. */
  rows: number;
  /** Whether the line has no earlier values, so that it may have stood there for longer. */
  isOpen: boolean;
}

const sideOf = (price: number, line: number): Standing['side'] =>
  price > line ? 'above' : price < line ? 'below' : 'at';

/**
 * Where the last of two columns of equal length stand to each other.
 * @returns undefined where one has no value in the last row
 */
export function standingNow(price: Float64Array, line: Float64Array): Standing | undefined {
  const last = price.length - 1;
  if (!isBoth(price, line, last)) return undefined;
  const side = sideOf(price[last], line[last]);
  let since = last;
  while (since > 0 && isBoth(price, line, since - 1) && sideOf(price[since - 1], line[since - 1]) === side) since--;
  return { side, since, rows: last - since + 1, isOpen: since === 0 || !isBoth(price, line, since - 1) };
}

const isBoth = (a: Float64Array, b: Float64Array, row: number): boolean =>
  row >= 0 && !Number.isNaN(a[row]) && !Number.isNaN(b[row]);

/** Rows for which a column has risen (above 0) or fallen (below 0) without a break up to its last row; 0 where it stands still. */
export function runNow(values: Float64Array): number {
  const last = values.length - 1;
  let sign = 0;
  let count = 0;
  for (let row = last; row > 0; row--) {
    const step = Math.sign(values[row] - values[row - 1]); // NaN ends it
    if (!(step > 0 || step < 0) || (sign !== 0 && step !== sign)) break;
    sign = step;
    count++;
  }
  return sign * count;
}

/** Of how many of the rows before the last one a column had a lower value than there, as a share; NaN where none has a value. */
export function shareBelowNow(values: Float64Array, rows: number): number {
  const last = values.length - 1;
  let [lower, count] = [0, 0];
  for (let row = Math.max(0, last - rows); row < last; row++) {
    if (Number.isNaN(values[row])) continue;
    count++;
    if (values[row] < values[last]) lower++;
  }
  return last < 0 || Number.isNaN(values[last]) ? NaN : lower / count;
}
