/** The first row, from a row on, whose value is `least` or more; `column` does not fall. The number of rows where none is. */
export function firstRowFrom(column: Float64Array | Int32Array, least: number, from = 0): number {
  let low = from;
  let high = column.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (column[middle] < least) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The same where it is likely near: by steps that double, then by halves. `time` does not fall from `row` on. */
export function firstFrom(time: Float64Array, instant: number, row: number): number {
  const rows = time.length;
  let step = 1;
  let low = row;
  while (low + step < rows && time[low + step] < instant) {
    low += step;
    step *= 2;
  }
  let high = Math.min(rows, low + step);
  if (time[low] >= instant) return low;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (time[middle] < instant) low = middle;
    else high = middle;
  }
  return high;
}
