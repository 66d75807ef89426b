/** Factors that are tried first, a thousandth apart. */
const GRID = 1000;
const GOLDEN = (Math.sqrt(5) - 1) / 2;
/** The factor is found to so much. */
const CLOSE = 1e-8;

/** The last average of a column, which starts at its first value, and the sum of its squared one-step errors. */
export function emaErrors(x: Float64Array, factor: number): { level: number; squares: number } {
  let [level, squares] = [x[0], 0];
  for (let t = 1; t < x.length; t++) {
    const error = x[t] - level;
    squares += error * error;
    level += factor * error;
  }
  return { level, squares };
}

/** Searches for the factor of the least squared errors, on more and more rows of a column. */
export class EmaSearch {
  private rows = 0;
  private readonly levels = new Float64Array(GRID);
  private readonly squares = new Float64Array(GRID);

  constructor(private readonly x: Float64Array) {}

  /** The factor in [0.001, 1] for the first so many rows, which are no fewer than at the last call; of two alike the smaller. */
  best(rows: number): number {
    this.goOn(rows);
    let least = 0;
    for (let at = 1; at < GRID; at++) if (this.squares[at] < this.squares[least]) least = at;
    const own = this.x.subarray(0, rows);
    const of = (factor: number) => emaErrors(own, factor).squares;
    let [low, high] = [Math.max(1, least) / GRID, Math.min(GRID, least + 2) / GRID];
    let [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    let [atA, atB] = [of(a), of(b)];
    while (high - low > CLOSE) {
      if (atA <= atB) {
        [high, b, atB] = [b, a, atA];
        a = high - GOLDEN * (high - low);
        atA = of(a);
      } else {
        [low, a, atA] = [a, b, atB];
        b = low + GOLDEN * (high - low);
        atB = of(b);
      }
    }
    const between = (low + high) / 2;
    const onGrid = (least + 1) / GRID;
    return of(between) < this.squares[least] ? between : onGrid;
  }

  private goOn(rows: number): void {
    if (this.rows === 0) {
      this.levels.fill(this.x[0]);
      this.rows = 1;
    }
    for (let at = 0; at < GRID; at++) {
      const factor = (at + 1) / GRID;
      let [level, squares] = [this.levels[at], this.squares[at]];
      for (let t = this.rows; t < rows; t++) {
        const error = this.x[t] - level;
        squares += error * error;
        level += factor * error;
      }
      this.levels[at] = level;
      this.squares[at] = squares;
    }
    this.rows = rows;
  }
}

export const leastErrorFactor = (x: Float64Array): number => new EmaSearch(x).best(x.length);
