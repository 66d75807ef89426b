import { firstRowFrom } from '@jaunty-ledger/core';

/** Where rows lie on an axis of true time, in places: the whole span has as many places as rows. */
export interface TrueTime {
  places: Float64Array;
  /** Places from one bar to the next where they follow each other at once. */
  spacing: number;
}

/**
 * The stretch in view, in fractions of places: `first` at the left edge, `count` places wide. Bars stand side by side, a
 * place each, unless they stand in true time. An immutable value.
 */
export interface ViewWindow {
  readonly first: number;
  readonly count: number;
  readonly trueTime?: TrueTime;
}

/** Fewer places than this are not worth a whole page. */
export const FEWEST_ROWS = 8;

export const wholeSpan = (rows: number, trueTime?: TrueTime): ViewWindow => ({
  first: 0,
  count: Math.max(rows, 1),
  trueTime,
});

/** Keeps a view within its places: no wider than they are, no narrower than can be read, not past either end. */
export function clamped({ first, count, trueTime }: ViewWindow, rows: number): ViewWindow {
  const least = Math.min(FEWEST_ROWS, rows) * (trueTime?.spacing ?? 1);
  const width = Math.min(Math.max(count, least), Math.max(rows, 1));
  return { first: Math.max(0, Math.min(first, rows - width)), count: width, trueTime };
}

export function panned(view: ViewWindow, byPlaces: number, rows: number): ViewWindow {
  return clamped({ ...view, first: view.first + byPlaces }, rows);
}

/** Zooms by a factor below 1 (in) or above (out), keeping `about` where it is: a share of the width from the left. */
export function zoomed(view: ViewWindow, factor: number, about: number, rows: number): ViewWindow {
  const { count } = clamped({ ...view, first: 0, count: view.count * factor }, rows);
  return clamped({ ...view, first: view.first + (view.count - count) * about, count }, rows);
}

/** Pixels from one bar to the next where they follow each other at once. */
export const pxPerRow = ({ count, trueTime }: ViewWindow, widthPx: number): number =>
  (widthPx / count) * (trueTime?.spacing ?? 1);

/** The place of a row. Half a row before it is half a place before it: a day begins where its first bar does. */
export function placeOfRow({ trueTime }: ViewWindow, row: number): number {
  if (!trueTime) return row;
  const { places } = trueTime;
  const known = Math.min(places.length - 1, Math.max(0, Math.ceil(row)));
  return places[known] + (row - known) * trueTime.spacing;
}

/** Centre of a row, in pixels of a plot so many wide. */
export const xOfRow = (view: ViewWindow, row: number, widthPx: number): number =>
  ((placeOfRow(view, row) + 0.5 * (view.trueTime?.spacing ?? 1) - view.first) / view.count) * widthPx;

/** The row that a pixel lies in, in true time the last one before it; the inverse of `xOfRow`. */
export function rowAtX(view: ViewWindow, x: number, widthPx: number): number {
  const place = view.first + (x / widthPx) * view.count;
  if (!view.trueTime) return Math.floor(place);
  const { places, spacing } = view.trueTime;
  const last = places.length - 1;
  if (place >= places[last]) return last + Math.floor((place - places[last]) / spacing);
  // the first row that begins later is the one after it
  return Math.max(0, firstRowFrom(places, place + 1e-9) - 1);
}

/** Rows in view, as [from, to), whole and within the data. */
export function rowsInView({ first, count, trueTime }: ViewWindow, rows: number): [number, number] {
  if (!trueTime) return [Math.max(0, Math.floor(first)), Math.min(rows, Math.ceil(first + count))];
  const { places, spacing } = trueTime;
  return [
    Math.min(rows, firstRowFrom(places, first - spacing + 1e-9)),
    Math.min(rows, firstRowFrom(places, first + count)),
  ];
}

/** The rows in view and one beyond each edge, so that a line runs out of the picture and does not end in it. */
export function rowsAboutView(view: ViewWindow, rows: number): [number, number] {
  const [from, to] = rowsInView(view, rows);
  return [Math.max(0, from - 1), Math.min(rows, to + 1)];
}

/** The view on a column that is drawn `shift` rows later: as if what it shows lay so many rows earlier. */
export function displaced(view: ViewWindow, shift: number): ViewWindow {
  if (shift === 0) return view;
  if (!view.trueTime) return { ...view, first: view.first - shift };
  const { places, spacing } = view.trueTime;
  const moved = places.map((_, row) => placeOfRow(view, row + shift));
  return { ...view, trueTime: { places: moved, spacing } };
}

/**
 * Places of rows by their time.
 * @param time  starts of the bars, and of those to come
 * @param rows  how many of them are bars
 */
export function trueTimeOf(time: Float64Array, rows: number): TrueTime {
  const unit = rows > 1 ? (time[rows - 1] - time[0]) / (rows - 1) : 1;
  const places = time.map((at) => (at - time[0]) / unit);
  const steps = Float64Array.from({ length: Math.min(1000, rows - 1) }, (_, i) => {
    const row = 1 + Math.floor((i * (rows - 1)) / Math.min(1000, rows - 1));
    return places[row] - places[row - 1];
  }).sort();
  return { places, spacing: steps.length > 0 ? steps[steps.length >> 1] : 1 };
}
