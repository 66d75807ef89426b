import { isFinite } from '../windows/anchoredSums.js';

/** A sum of squares below this share of the one it was taken from counts as 0. */
export const NOTHING = 1e-20;

/** The values of a column that are there. */
export function validOf(x: Float64Array): Float64Array {
  const values = new Float64Array(x.length);
  let count = 0;
  for (let row = 0; row < x.length; row++) if (isFinite(x[row])) values[count++] = x[row];
  return count === x.length ? values : values.slice(0, count);
}

/** Deviations of values from their mean; about the first value before, so that numbers around 1e9 keep their digits. */
export function deviationsOf(values: Float64Array): Float64Array {
  if (values.length === 0) return values;
  const [n, base] = [values.length, values[0]];
  const moved = new Float64Array(n);
  for (let row = 0; row < n; row++) moved[row] = values[row] - base;
  const mean = sumOf(moved) / n;
  for (let row = 0; row < n; row++) moved[row] -= mean;
  return moved;
}

export function sumOf(values: Float64Array): number {
  let sum = 0;
  for (let row = 0; row < values.length; row++) sum += values[row];
  return sum;
}

export function squaresOf(values: Float64Array): number {
  let sum = 0;
  for (let row = 0; row < values.length; row++) sum += values[row] * values[row];
  return sum;
}

/** Whether values are all the same, so that there is nothing to examine. */
export const isConstant = (values: Float64Array): boolean => values.every((value) => value === values[0]);
