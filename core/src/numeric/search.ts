/** The first row, from a row on, whose value is `least` or more; `column` does not fall. The number of rows where none is. */
export function firstRowFrom(column: Float64Array, least: number, from = 0): number {
  let low = from;
  let high = column.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (column[middle] < least) low = middle + 1;
    else high = middle;
  }
  return low;
}
