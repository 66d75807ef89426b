import type { PlotGestures } from '$lib/chart/plotGestures';
import { panned, rowAtX, wholeSpan, zoomed, type ViewWindow } from '$lib/chart/viewWindow';
import { AXIS_PX } from '$lib/chart/plotSize';

/** Where one looks on the series, and at what: shared by all pictures that have its rows along them. */
export class SeriesView {
  window = $state.raw<ViewWindow>(wholeSpan(1));
  pointer = $state<number>();
  /** Two points whose distance is told. */
  measure = $state.raw<{ from: number; to: number }>();
  private points = $state(1);

  /** The series has so many points now; where one looked stays while they are as many. */
  show(points: number): void {
    if (points === this.points) return;
    this.points = points;
    this.window = wholeSpan(points);
    this.pointer = undefined;
    this.measure = undefined;
  }

  /** Whether all of it is in view. */
  get isWhole(): boolean {
    return this.window.count >= this.points;
  }

  /** First point in view and the one after the last. */
  get ends(): [number, number] {
    const { first, count } = this.window;
    return [Math.max(0, Math.round(first)), Math.min(this.points, Math.round(first + count))];
  }

  /** What a hand does to a picture whose plot is so many pixels wide. */
  gestures(widthPx: number): PlotGestures {
    const pointAt = (share: number) => rowAtX(this.window, share * (widthPx + AXIS_PX), widthPx);
    const within = (point: number) => Math.min(this.points - 1, Math.max(0, point));
    const look = (window: ViewWindow) => (this.window = window);
    return {
      point: (share) => {
        const at = share === undefined ? -1 : pointAt(share);
        this.pointer = at >= 0 && at < this.points ? at : undefined;
      },
      pan: (share) =>
        look(panned(this.window, Number.isFinite(share) ? -share * this.window.count : -share, this.points)),
      zoom: (factor, about) =>
        look(zoomed(this.window, factor, Math.min(1, (about * (widthPx + AXIS_PX)) / widthPx), this.points)),
      fit: () => look(wholeSpan(this.points)),
      step: (rows) => {
        const at = within((this.pointer ?? Math.round(this.window.first + this.window.count / 2)) + rows);
        this.pointer = at;
        const { first, count } = this.window;
        if (at < first || at >= first + count) look(panned(this.window, at - first - count / 2, this.points));
      },
      measure: (from, to) => {
        this.measure =
          from === undefined ? undefined : { from: within(pointAt(from)), to: within(pointAt(to ?? from)) };
      },
      // a press holds a place fast, and what is pointed at is measured from there
      pin: (share) => {
        const at = within(pointAt(share));
        this.measure = this.measure ? undefined : { from: at, to: at };
      },
    };
  }
}
