import { BAR_FIELDS, type Bars } from '../bars/bars.js';
import { firstRowFrom } from '../numeric/search.js';

/** Bars that are written from some row on, again and again, in columns with room to grow into. */
export class BarRows {
  count = 0;
  private readonly columns = new Map<string, Float64Array>();
  private complete = new Uint8Array(0);
  private texts: string[] = [];
  private numbers: string[] = [];

  /** @param bars  to begin with; they stay as they are */
  constructor(bars?: Bars) {
    if (bars) this.put(0, bars);
  }

  /**
   * Puts bars in from a row on, which are the last.
   * @returns the first row that is another one now; the number of rows where none is but those that are new
   */
  put(first: number, bars: Bars): number {
    this.texts = Object.keys(bars.texts ?? {});
    this.numbers = Object.keys(bars.numbers ?? {});
    const length = first + bars.time.length;
    const known = Math.min(this.count, length);
    let changed = known;
    for (const [name, rows] of columnsOf(bars)) {
      let column = this.columns.get(name);
      if (!column || column.length < length) {
        const wider = new Float64Array(roomFor(length)).fill(NaN);
        if (column) wider.set(column);
        this.columns.set(name, (column = wider));
      }
      changed = differsFrom(column, rows, first, changed);
      column.set(rows, first);
    }
    if (this.complete.length < length) {
      const wider = new Uint8Array(roomFor(length));
      wider.set(this.complete);
      this.complete = wider;
    }
    changed = differsFrom(this.complete, bars.complete, first, changed);
    this.complete.set(bars.complete, first);
    this.count = length;
    return changed;
  }

  /** All bars, in memory that is written on. */
  bars(): Bars {
    const of = (name: string) => this.columns.get(name)?.subarray(0, this.count) ?? new Float64Array(this.count);
    const own = (kind: string, names: readonly string[]) =>
      names.length > 0 ? Object.fromEntries(names.map((name) => [name, of(`${kind} ${name}`)])) : undefined;
    const fields = Object.fromEntries(BAR_FIELDS.map((name) => [name, of(name)]));
    return {
      ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
      complete: this.complete.subarray(0, this.count),
      texts: own('text', this.texts),
      numbers: own('number', this.numbers),
    };
  }

  /** The first row whose bar does not start before an instant. */
  firstFrom(instant: number): number {
    return this.count === 0 ? 0 : firstRowFrom(this.columns.get('time')!.subarray(0, this.count), instant);
  }
}

const roomFor = (rows: number): number => Math.max(64, Math.ceil(1.5 * rows));

/** The first row before `end` on which a column is another one than rows that begin at `first`. */
function differsFrom(column: ArrayLike<number>, rows: ArrayLike<number>, first: number, end: number): number {
  for (let row = first; row < end; row++) if (!Object.is(column[row], rows[row - first])) return row;
  return end;
}

const columnsOf = (bars: Bars): [string, Float64Array][] => [
  ...BAR_FIELDS.map((name): [string, Float64Array] => [name, bars[name]]),
  ...Object.entries(bars.texts ?? {}).map(([name, column]): [string, Float64Array] => [`text ${name}`, column]),
  ...Object.entries(bars.numbers ?? {}).map(([name, column]): [string, Float64Array] => [`number ${name}`, column]),
];
