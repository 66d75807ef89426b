import { deviationsOf } from '../numeric/deviations.js';
import { isFinite } from '../windows/anchoredSums.js';

/** What a straight line over the rows leaves of values; of deviations from their mean where `slope` is not wanted. */
export function lessLine(values: Float64Array): Float64Array {
  const deviations = deviationsOf(values);
  const middle = (values.length - 1) / 2;
  let [along, across] = [0, 0];
  for (let row = 0; row < values.length; row++) {
    along += (row - middle) * deviations[row];
    across += (row - middle) ** 2;
  }
  const slope = across > 0 ? along / across : 0;
  return deviations.map((value, row) => value - slope * (row - middle));
}

/** A column between its first and its last value, gaps filled on straight lines by rows. */
interface Filled {
  values: Float64Array;
  /** Its first row in the column. */
  first: number;
  /** Rows that were missing. */
  filled: number;
}

/** Fills gaps; rows before the first and after the last value are left out. */
export function filledOf(x: Float64Array): Filled {
  const rows = Int32Array.from(x.keys()).filter((row) => isFinite(x[row]));
  if (rows.length === 0) return { values: new Float64Array(0), first: 0, filled: 0 };
  const first = rows[0];
  const values = x.slice(first, rows[rows.length - 1] + 1);
  for (let i = 1; i < rows.length; i++) {
    const [from, to] = [rows[i - 1], rows[i]];
    for (let row = from + 1; row < to; row++)
      values[row - first] = x[from] + ((x[to] - x[from]) * (row - from)) / (to - from);
  }
  return { values, first, filled: values.length - rows.length };
}
