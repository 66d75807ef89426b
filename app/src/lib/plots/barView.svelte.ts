import {
  firstRowFrom,
  type BarRows,
  instantOf,
  parseBarRule,
  PRECISIONS,
  rfc3339,
  type Calendar,
  type Precision,
  type Stretch,
} from '@jaunty-ledger/core';
import type { Tape } from '$lib/api/tapes';
import { dayStarts, type DayStarts } from '$lib/chart/calendarTicks';
import { clamped, rowsAboutView, rowsInView, trueTimeOf, wholeSpan, type ViewWindow } from '$lib/chart/viewWindow';
import type { DrawnBars, RowRange } from '$lib/compute/protocol';
import { placesOf, timesWithThoseToCome, viewOfRows, viewWithRow } from './viewRows';

/** Bars of a first view: what a page shows without crowding. */
const FIRST_VIEW_ROWS = 140;
/** A tape of more records has the bars in view asked for ahead of all. */
const MANY_RECORDS = 200_000;
/** Nights and weekends that the last bars of a tape may lie apart. */
const CLOSED_MICROS = 4 * 86_400e6;
/** Fewer are computed before a frame is painted. */
const MANY_ROWS = 50_000;
const NO_TIMES = new Float64Array(0);
const NO_DAYS: DayStarts = { rows: new Int32Array(0), dates: new Int32Array(0), months: new Int32Array(0) };

/** Bars side by side, or in true time. */
export type Axis = 'bars' | 'time';

/** Which bars: of which tape, by which rule, with flagged records or without. */
export interface BarSource {
  tape: string;
  rule: string;
  flagged: boolean;
  /** The bars that are worked with, as if the tape had no others; all of them without. */
  alone: Stretch | undefined;
}

/** A stretch of time, as it is kept: RFC 3339. */
interface KeptStretch {
  from: string;
  to: string;
}

/** What is kept of where one looks: a stretch, all bars, or nothing that was chosen. */
type KeptView = KeptStretch | 'all' | null;

/** What a view is told by whoever keeps what is looked at. */
interface ViewOwner {
  axis: () => Axis;
  /** Lines over the bars, each displaced by so many rows. */
  lines: () => readonly { shift: number; hidden: boolean }[];
  /** Rows at the beginning that are left out of view. */
  rowsTrimmed: () => number;
  /** Told where one looks; nothing for all of it. */
  looked: (view: KeptView) => void;
}

/**
 * The stretch whose bars are shown first, while all are on their way; nothing where all come as soon, or where a bar depends
 * on what lies before it.
 */
export function stretchAhead(tape: Tape, rule: string, kept: KeptView): Stretch | undefined {
  const { kind } = parseBarRule(rule);
  if (tape.rows < MANY_RECORDS || kind.by !== 'interval' || kept === 'all') return undefined;
  const most = 2 * FIRST_VIEW_ROWS * kind.micros + CLOSED_MICROS;
  if (!kept) return { from: instantOf(tape.to) - most, to: instantOf(tape.to) + kind.micros };
  const stretch = { from: instantOf(kept.from), to: instantOf(kept.to) };
  return stretch.to - stretch.from <= 10 * most ? stretch : undefined;
}

/** Bars of a tape as one looks at them: the stretch in view, the row pointed at, the rows held fast and measured between. */
export class BarView {
  tape = $state.raw() as Tape;
  source = $state.raw() as BarSource;
  calendar = $state.raw() as Calendar;
  bars = $state.raw<DrawnBars>();
  /** The row under the pointer. */
  pointer = $state<number>();
  /** A row that is held fast, for its working. */
  pinned = $state<number>();
  /** What is looked into: a value of an entry, or without one the bar. */
  working = $state<{ entryId: string | undefined; row: number }>();
  /** Two rows that are measured between. */
  measure = $state<{ from: number; to: number }>();
  /** Whether the bars are those in view alone, and all are on their way: one looks at them, and waits to go on. */
  isPart = $state(false);
  private inView = $state.raw({ first: 0, count: 1 });
  /** Starts of the bars, and of those to come that displaced lines are drawn on, where the calendar tells them. */
  readonly times = $derived(
    this.bars
      ? timesWithThoseToCome(this.bars.time, this.viewRows - this.rows, this.source.rule, this.calendar)
      : NO_TIMES,
  );
  readonly days = $derived(this.bars ? dayStarts(this.times, this.calendar) : NO_DAYS);
  private readonly trueTime = $derived.by(() =>
    this.bars && this.owner.axis() === 'time' && this.rows > 1 ? trueTimeOf(this.times, this.rows) : undefined,
  );
  /** The stretch in view. */
  readonly window: ViewWindow = $derived({ ...this.inView, trueTime: this.trueTime });

  constructor(private readonly owner: ViewOwner) {}

  get rows(): number {
    return this.bars?.time.length ?? 0;
  }

  get axis(): Axis {
    return this.owner.axis();
  }

  /** Rows that may come into view: the bars, and those to come that displaced lines are drawn on. */
  get viewRows(): number {
    return this.rows + Math.max(0, ...this.owner.lines().map(({ shift, hidden }) => (hidden ? 0 : shift)));
  }

  get viewPlaces(): number {
    return placesOf(this.viewRows, this.rows, this.trueTime);
  }

  /** The row whose figures the margin shows: under the pointer, else the pinned one, else the last in view. */
  get figureRow(): number {
    return this.pointer ?? this.pinned ?? rowsInView(this.window, this.rows)[1] - 1;
  }

  /** Whether each bar is one value, so that there is nothing to tell of it but that. */
  readonly isSingle = $derived.by(() => {
    if (!this.bars || (this.tape.kind !== 'series' && this.tape.kind !== 'bars')) return false;
    const { open, high, low, close } = this.bars;
    return close.every((value, row) => {
      if (value !== value) return true; // a blank bar says nothing against it
      return value === open[row] && value === high[row] && value === low[row];
    });
  });

  /** How exactly the moments of bars are told: as the records or by the bars, whichever is less exact. */
  get precision(): Precision {
    const { kind } = parseBarRule(this.source.rule);
    const ofBars = kind.by !== 'period' ? 'moment' : kind.unit === 'week' ? 'day' : kind.unit;
    const exactness = (precision: Precision) => PRECISIONS.indexOf(precision);
    return exactness(ofBars) > exactness(this.tape.precision) ? ofBars : this.tape.precision;
  }

  /** Shows other bars, from a stretch on that was kept, else the last ones. */
  show(tape: Tape, source: BarSource, calendar: Calendar, bars: DrawnBars, kept: KeptView, isPart = false): void {
    this.isPart = isPart;
    this.tape = tape;
    this.source = source;
    this.calendar = calendar;
    this.bars = bars;
    this.pointer = this.pinned = this.measure = undefined;
    const rowOf = (at: string) => firstRowFrom(bars.time, instantOf(at));
    const stretch = kept === 'all' ? [0, this.rows] : kept ? [rowOf(kept.from), rowOf(kept.to)] : [0, 0];
    const [from, to] = stretch[1] > stretch[0] ? stretch : [Math.max(0, this.rows - FIRST_VIEW_ROWS), this.rows];
    this.inView = viewOfRows(from, to, this.viewPlaces, this.trueTime);
  }

  /**
   * Shows bars that have come, or gone on. Whoever has the newest bar in view goes on having it there, if so asked; the hand
   * that looks at the past is not moved.
   * @param rows  of the bars, from where this view has had them on
   */
  grow(rows: BarRows, follows: boolean): void {
    const { bars, viewRows, axis } = this;
    if (!bars) return;
    const [from, to] = rowsInView(this.window, viewRows);
    const isWhole = from === 0 && to >= this.rows;
    const isAtEnd = to >= this.rows;
    const before = bars.time;
    const timeOf = (row: number | undefined) => (row === undefined ? undefined : before[row]);
    const held = { pointer: timeOf(this.pointer), pinned: timeOf(this.pinned), first: before[from] };
    const added = rows.count - this.rows;
    const grown = rows.bars();
    this.bars = { ...bars, ...grown };
    // a late record may have made a bar among the others
    const rowOf = (at: number | undefined) => (at === undefined ? undefined : firstRowFrom(grown.time, at));
    this.pointer = rowOf(held.pointer) ?? this.pointer;
    this.pinned = rowOf(held.pinned) ?? this.pinned;
    if (added === 0 && axis === 'bars') return;
    const first = follows && isAtEnd && !isWhole ? from + added : (rowOf(held.first) ?? from);
    const end = follows && isAtEnd ? to + added : first + to - from;
    this.inView = viewOfRows(isWhole && follows ? 0 : first, end, this.viewPlaces, this.trueTime);
  }

  /** Shows the newest bar. */
  showNewest(): void {
    const [from, to] = rowsInView(this.window, this.viewRows);
    if (to < this.viewRows)
      this.look(viewOfRows(this.viewRows - (to - from), this.viewRows, this.viewPlaces, this.trueTime));
  }

  look(view: ViewWindow): void {
    if (this.isPart) return;
    const left = this.owner.rowsTrimmed();
    const within = clamped({ ...view, first: view.first - left, trueTime: this.trueTime }, this.viewPlaces - left);
    this.inView = { first: within.first + left, count: within.count };
    const { time, end } = this.bars!;
    const [from, to] = rowsInView(this.window, this.rows);
    const isWhole = this.window.count >= this.rows;
    this.owner.looked(
      isWhole
        ? 'all'
        : to <= from
          ? null
          : { from: rfc3339(time[from]), to: rfc3339(Math.max(end[to - 1], time[to - 1])) },
    );
  }

  /** Bars to come have been added, for lines that are drawn on them: whoever looked at the last bar sees them too. */
  showRowsToCome(rowsBefore: number): void {
    const [from, to] = rowsInView(this.window, rowsBefore);
    if (to < rowsBefore || this.viewRows <= rowsBefore) return;
    this.inView = viewOfRows(from, this.viewRows, this.viewPlaces, this.trueTime);
  }

  /** Moves the view so that it shows a row. */
  bringIntoView(row: number): void {
    this.look(viewWithRow(this.window, row, ...rowsInView(this.window, this.viewRows)));
  }

  /** Shows the bars that start within a stretch. @returns whether there are any */
  lookAt({ from, to }: Stretch): boolean {
    const { time } = this.bars!;
    const [first, end] = [firstRowFrom(time, from), firstRowFrom(time, to)];
    if (end <= first) return false;
    this.look(viewOfRows(first, end, this.viewPlaces, this.trueTime));
    return true;
  }

  lookAtAll(): void {
    this.look(wholeSpan(this.viewPlaces));
  }

  /** Makes a change that may be one of the axis; the same bars stay in view. */
  keepingRows(change: () => void): void {
    const axis = this.owner.axis();
    const [from, to] = rowsInView(this.window, this.viewRows);
    change();
    if (this.bars && this.owner.axis() !== axis) this.look(viewOfRows(from, to, this.viewPlaces, this.trueTime));
  }

  /** Opens the working of an entry's value, or of the bar itself, at the row that is pinned or pointed at. */
  openWorking(entryId: string | undefined, row = this.figureRow): void {
    if (this.isPart) return;
    this.pinned = row;
    this.working = { entryId, row };
  }

  closeWorking(): void {
    this.working = this.pinned = undefined;
  }

  /**
   * Rows that are looked at, whatever lines are displaced by: in the chart, and where the margin's figures are from. None
   * where all rows come as soon.
   */
  rowsLookedAt(): RowRange[] {
    if (this.rows < MANY_ROWS) return [];
    const shifts = this.owner.lines().map(({ shift }) => shift);
    const [from, to] = rowsAboutView(this.window, this.viewRows);
    const inChart = [
      Math.max(0, from - Math.max(0, ...shifts)),
      Math.min(this.rows, to - Math.min(0, ...shifts)),
    ] as const;
    const row = this.figureRow;
    const isElsewhere = row >= 0 && row < this.rows && (row < inChart[0] || row >= inChart[1]);
    return isElsewhere ? [inChart, [row, row + 1]] : [inChart];
  }
}
