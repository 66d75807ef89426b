/** A column whose remaining length is below this share of its own depends on those before it. */
const DEPENDENT = 1e-11;

/**
 * Solves least squares by Householder reflections (Golub 1965).
 * @param columns  k columns of m >= k rows; they are overwritten
 * @param y        m rows, overwritten too
 * @returns k coefficients, 0 for a column that depends on those before it
 */
export function solveLeastSquares(columns: readonly Float64Array[], y: Float64Array): Float64Array {
  const [m, k] = [y.length, columns.length];
  const diagonal = new Float64Array(k);
  const pivots: number[] = [];
  for (let j = 0; j < k; j++) {
    const column = columns[j];
    const top = pivots.length;
    const whole = lengthFrom(column, 0);
    const length = lengthFrom(column, top);
    if (top >= m || !(length > DEPENDENT * whole)) continue;
    diagonal[j] = reflect(column, top, length, [...columns.slice(j + 1), y]);
    pivots.push(j);
  }
  const b = new Float64Array(k);
  for (let row = pivots.length - 1; row >= 0; row--) {
    const j = pivots[row];
    let value = y[row];
    for (let i = row + 1; i < pivots.length; i++) value -= columns[pivots[i]][row] * b[pivots[i]];
    b[j] = value / diagonal[j];
  }
  return b;
}

/**
 * Takes what is left of a column to one place by a reflection, and others with it.
 * @param top     the place, below those of columns before
 * @param length  of the column from there on
 * @returns the value at that place
 */
export function reflect(column: Float64Array, top: number, length: number, others: readonly Float64Array[]): number {
  const alpha = column[top] > 0 ? -length : length;
  column[top] -= alpha;
  const scale = -alpha * column[top]; // half the square of the reflection's vector
  for (const other of others) {
    let dot = 0;
    for (let row = top; row < column.length; row++) dot += column[row] * other[row];
    dot /= scale;
    for (let row = top; row < column.length; row++) other[row] -= dot * column[row];
  }
  return alpha;
}

/** Length of a column from a row on; the places above it hold what reflections made of them. */
export function lengthFrom(column: Float64Array, from: number): number {
  let sum = 0;
  for (let row = from; row < column.length; row++) sum += column[row] * column[row];
  return Math.sqrt(sum);
}
