/** The stretch of rows in view, in fractions of rows: `first` at the left edge, `count` rows wide. An immutable value. */
export interface ViewWindow {
  readonly first: number;
  readonly count: number;
}

/** Fewer rows than this are not worth a whole page. */
export const FEWEST_ROWS = 8;

export const wholeSpan = (rows: number): ViewWindow => ({ first: 0, count: Math.max(rows, 1) });

/** Keeps a view within its rows: no wider than they are, no narrower than can be read, not past either end. */
export function clamped({ first, count }: ViewWindow, rows: number): ViewWindow {
  const width = Math.min(Math.max(count, Math.min(FEWEST_ROWS, rows)), Math.max(rows, 1));
  return { first: Math.max(0, Math.min(first, rows - width)), count: width };
}

export function panned(view: ViewWindow, byRows: number, rows: number): ViewWindow {
  return clamped({ first: view.first + byRows, count: view.count }, rows);
}

/** Zooms by a factor below 1 (in) or above (out), keeping `about` where it is: a share of the width from the left. */
export function zoomed(view: ViewWindow, factor: number, about: number, rows: number): ViewWindow {
  const { count } = clamped({ first: 0, count: view.count * factor }, rows);
  return clamped({ first: view.first + (view.count - count) * about, count }, rows);
}

/** Centre of a row, in pixels of a plot so many wide. */
export const xOfRow = (view: ViewWindow, row: number, widthPx: number): number =>
  ((row + 0.5 - view.first) / view.count) * widthPx;

/** The row that a pixel lies in; the inverse of `xOfRow`. */
export const rowAtX = (view: ViewWindow, x: number, widthPx: number): number =>
  Math.floor(view.first + (x / widthPx) * view.count);

/** Rows in view, as [from, to), whole and within the data. */
export function rowsInView(view: ViewWindow, rows: number): [number, number] {
  return [Math.max(0, Math.floor(view.first)), Math.min(rows, Math.ceil(view.first + view.count))];
}
