/** Which rows of a long table are drawn: those in sight, and some around them. Spacers stand for the others. */
export class RowWindow {
  /** How far the table is scrolled, and the height of what shows it. */
  topPx = $state(0);
  heightPx = $state(0);

  /**
   * @param count   rows of the table
   * @param rowPx   height of one
   * @param around  rows above and below those in sight that are drawn too
   */
  constructor(
    private readonly count: () => number,
    private readonly rowPx: number,
    private readonly around: number,
    heightPx: number,
  ) {
    this.heightPx = heightPx;
  }

  get first(): number {
    return Math.min(this.count(), Math.max(0, Math.floor(this.topPx / this.rowPx) - this.around));
  }

  /** Rows that are drawn at most: as keys, their places modulo this let rows that enter reuse those that leave. */
  get size(): number {
    return Math.ceil(this.heightPx / this.rowPx) + 2 * this.around;
  }

  /** The row behind the last that is drawn. */
  get end(): number {
    return Math.min(this.count(), this.first + this.size);
  }

  get abovePx(): number {
    return this.first * this.rowPx;
  }

  get belowPx(): number {
    return (this.count() - this.end) * this.rowPx;
  }
}
