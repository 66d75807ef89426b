/** A pivot below this share of a column's own square counts as none. */
const DEPENDENT = 1e-14;

/**
 * Least squares by its normal equations, each column scaled to length 1: quicker than reflections, at half their digits, for the
 * steps of a search.
 */
export class NormalEquations {
  private readonly products: Float64Array[];
  private readonly toY: Float64Array;
  private readonly lengths: Float64Array;

  /** @param columns  k columns of m rows; @param y  m rows */
  constructor(columns: readonly Float64Array[], y: Float64Array) {
    this.lengths = Float64Array.from(columns, (column) => Math.sqrt(dot(column, column)) || 1);
    this.products = columns.map((column, i) =>
      Float64Array.from({ length: i + 1 }, (_, j) => dot(column, columns[j]) / (this.lengths[i] * this.lengths[j])),
    );
    this.toY = Float64Array.from(columns, (column, i) => dot(column, y) / this.lengths[i]);
  }

  /**
   * Solves for all columns but some, by Cholesky's factors.
   * @param damping  added to each square (Marquardt 1963)
   * @returns a coefficient a column, 0 of those left out and of those that depend on others
   */
  solve(damping = 0, skipped: readonly number[] = []): Float64Array {
    const used = Array.from(this.lengths.keys()).filter((i) => !skipped.includes(i));
    const factors: Float64Array[] = [];
    const rest = new Float64Array(used.length);
    used.forEach((i, row) => {
      const factor = new Float64Array(row + 1);
      for (let column = 0; column <= row; column++) {
        let sum = this.products[i][used[column]] + (column === row ? damping : 0);
        for (let k = 0; k < column; k++) sum -= factor[k] * (column === row ? factor[k] : factors[column][k]);
        if (column < row) factor[column] = factors[column][column] > 0 ? sum / factors[column][column] : 0;
        else factor[row] = sum > DEPENDENT ? Math.sqrt(sum) : 0;
      }
      factors.push(factor);
      let value = this.toY[i];
      for (let k = 0; k < row; k++) value -= factor[k] * rest[k];
      rest[row] = factor[row] > 0 ? value / factor[row] : 0;
    });
    const solution = new Float64Array(this.lengths.length);
    for (let row = used.length - 1; row >= 0; row--) {
      let value = rest[row];
      for (let k = row + 1; k < used.length; k++) value -= factors[k][row] * rest[k];
      rest[row] = factors[row][row] > 0 ? value / factors[row][row] : 0;
      solution[used[row]] = rest[row] / this.lengths[used[row]];
    }
    return solution;
  }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let row = 0; row < a.length; row++) sum += a[row] * b[row];
  return sum;
}
