import { NOTHING, squaresOf } from '../numeric/deviations.js';
import { lengthFrom, reflect } from '../numeric/householder.js';

/**
 * Least squares of a column on others, by Householder reflections (Golub 1965). Regressors come one after the other, so that
 * what the first k of them leave is known for each k.
 */
export interface Regression {
  /** Sums of squares that the first k regressors leave, k from 0. NaN from the first that depends on those before it. */
  left: Float64Array;
  /** Coefficient of one regressor, with all of them in. */
  coefficient: number;
  /** The same over its standard error, whose divisor is rows less regressors. */
  error: number;
}

/**
 * @param columns  regressors, each as long as y; they are overwritten
 * @param y        overwritten too
 * @param wanted   the regressor whose coefficient is told
 */
export function regress(columns: Float64Array[], y: Float64Array, wanted: number): Regression {
  const [m, k] = [y.length, columns.length];
  const left = new Float64Array(k + 1).fill(NaN);
  const total = squaresOf(y);
  left[0] = total;
  const diagonal = new Float64Array(k);
  for (let j = 0; j < k && j < m; j++) {
    const column = columns[j];
    const whole = lengthFrom(column, 0);
    const norm = lengthFrom(column, j);
    if (!(norm * norm > NOTHING * whole * whole)) return { left, coefficient: NaN, error: NaN };
    diagonal[j] = reflect(column, j, norm, [...columns.slice(j + 1), y]);
    let rest = 0;
    for (let row = j + 1; row < m; row++) rest += y[row] * y[row];
    left[j + 1] = rest;
  }
  if (k > m) return { left, coefficient: NaN, error: NaN };
  // R b = Q'y, from below; and the row of R's inverse that the error is made of
  const b = new Float64Array(k);
  for (let j = k - 1; j >= 0; j--) {
    let value = y[j];
    for (let i = j + 1; i < k; i++) value -= columns[i][j] * b[i];
    b[j] = value / diagonal[j];
  }
  const variance = left[k] / (m - k);
  return { left, coefficient: b[wanted], error: Math.sqrt(variance * inverseSquares(columns, diagonal, wanted)) };
}

/** The wanted entry of the diagonal of the inverse of R'R: the squared length of its row in the inverse of R. */
function inverseSquares(columns: readonly Float64Array[], diagonal: Float64Array, wanted: number): number {
  const k = diagonal.length;
  const row = new Float64Array(k);
  row[wanted] = 1 / diagonal[wanted];
  let sum = row[wanted] ** 2;
  for (let j = wanted + 1; j < k; j++) {
    let value = 0;
    for (let i = wanted; i < j; i++) value -= row[i] * columns[j][i];
    row[j] = value / diagonal[j];
    sum += row[j] ** 2;
  }
  return sum;
}
