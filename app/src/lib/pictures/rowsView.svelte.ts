import type { PlotGestures } from '$lib/chart/plotGestures';
import { AXIS_PX } from '$lib/chart/plotSize';
import { panned, placeOfRow, rowAtX, wholeSpan, zoomed, type ViewWindow } from '$lib/chart/viewWindow';

/** Where one looks on some rows, and at which: shared by all pictures that have these rows along them. */
export class RowsView {
  window = $state.raw<ViewWindow>(wholeSpan(1));
  pointer = $state<number>();
  /** Of the plots that have these rows along them; 0 until they are laid out. */
  widthPx = $state(0);
  /** Two rows whose distance is told. */
  measure = $state.raw<{ from: number; to: number }>();
  /** Pixels between the plot and its figures, where lines are named at their ends. */
  endPx = $state(0);
  private rows = $state(1);
  private shape = '1';

  /**
   * There are so many rows now; where one looked stays while they are as many.
   * @param places  where each row stands, from 0 to one below their number; side by side without
   */
  show(rows: number, places?: Float64Array): void {
    const shape = `${rows} ${places?.[rows >> 1] ?? ''}`;
    if (shape === this.shape) return;
    this.shape = shape;
    this.rows = rows;
    this.window = wholeSpan(rows, places && { places, spacing: 1 });
    this.pointer = undefined;
    this.measure = undefined;
  }

  /**
   * There are more rows now, behind those that there were. Whoever saw the last one goes on seeing it, and all of them where all
   * were in view.
   */
  grow(rows: number): void {
    const added = rows - this.rows;
    if (added === 0) return;
    const { first, count } = this.window;
    const isWhole = this.isWhole;
    const isAtEnd = first + count >= this.rows - 0.5;
    this.rows = rows;
    this.shape = `${rows} `;
    if (isWhole) this.window = wholeSpan(rows);
    else if (isAtEnd) this.window = { ...this.window, first: first + added };
  }

  /** Whether all of them are in view. */
  get isWhole(): boolean {
    return this.window.count >= this.rows;
  }

  /** First row in view and the one after the last. */
  get ends(): [number, number] {
    const { first, count } = this.window;
    return [Math.max(0, Math.round(first)), Math.min(this.rows, Math.round(first + count))];
  }

  /**
   * What a hand does to a picture whose plot is so many pixels wide. These pictures stand on pages that are scrolled, so the
   * wheel zooms with Ctrl alone.
   */
  gestures(widthPx: number): PlotGestures {
    const wholePx = widthPx + this.endPx + AXIS_PX;
    const rowAt = (share: number) => rowAtX(this.window, share * wholePx, widthPx);
    const within = (row: number) => Math.min(this.rows - 1, Math.max(0, row));
    const look = (window: ViewWindow) => (this.window = window);
    return {
      isScrolledOver: true,
      point: (share) => {
        const at = share === undefined ? -1 : rowAt(share);
        this.pointer = at >= 0 && at < this.rows ? at : undefined;
      },
      pan: (share) =>
        look(panned(this.window, Number.isFinite(share) ? -share * this.window.count : -share, this.rows)),
      zoom: (factor, about) => look(zoomed(this.window, factor, Math.min(1, (about * wholePx) / widthPx), this.rows)),
      fit: () => look({ ...wholeSpan(this.rows, this.window.trueTime) }),
      step: (rows) => {
        const at = within((this.pointer ?? rowAt(0.5)) + rows);
        this.pointer = at;
        const { first, count } = this.window;
        const place = placeOfRow(this.window, at);
        if (place < first || place >= first + count) look(panned(this.window, place - first - count / 2, this.rows));
      },
      measure: (from, to) => {
        this.measure = from === undefined ? undefined : { from: within(rowAt(from)), to: within(rowAt(to ?? from)) };
      },
      // a press holds a row fast, and what is pointed at is measured from there
      pin: (share) => {
        const at = within(rowAt(share));
        this.measure = this.measure ? undefined : { from: at, to: at };
      },
    };
  }
}
