/** More bars than whoever asked for them can take. */
export class TooManyBarsError extends RangeError {
  override readonly name = 'TooManyBarsError';
  constructor(readonly mostBars: number) {
    super(
      `this makes more than ${mostBars.toLocaleString('en')} bars; take longer bars, or leave the empty intervals out`,
    );
  }
}

/** What bounds the making of bars: how many there may be, and a call by which it can be stopped. */
export class BuildCourse {
  /**
   * @param mostBars  no limit if not given
   * @param goOn      called every few thousand bars; it may throw to stop
   */
  constructor(
    private readonly mostBars = Infinity,
    private readonly goOn: () => void = () => undefined,
  ) {}

  /** @throws {TooManyBarsError} where there are too many bars */
  made(bars: number): void {
    if (bars > this.mostBars) throw new TooManyBarsError(this.mostBars);
    this.goOn();
  }
}
