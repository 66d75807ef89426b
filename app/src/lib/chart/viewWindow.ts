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
  /** Rows that what is shown stands later than its own; none if not given. */
  readonly shift?: number;
}

/** Fewer places than this are not worth a whole page. */
const FEWEST_ROWS = 8;

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
export function placeOfRow({ trueTime, shift = 0 }: ViewWindow, row: number): number {
  const at = row + shift;
  if (!trueTime) return at;
  const { places } = trueTime;
  const known = Math.min(places.length - 1, Math.max(0, Math.ceil(at)));
  return places[known] + (at - known) * trueTime.spacing;
}

/** The first row whose place is not before one, as if there were rows without end. */
export function rowFromPlace({ trueTime, shift = 0 }: ViewWindow, place: number): number {
  if (!trueTime) return Math.ceil(place) - shift;
  const { places, spacing } = trueTime;
  const last = places.length - 1;
  const row = place > places[last] ? last + Math.ceil((place - places[last]) / spacing) : firstRowFrom(places, place);
  return row - shift;
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
export function rowsInView(view: ViewWindow, rows: number): [number, number] {
  const { first, count, trueTime } = view;
  // a row is in view from the moment that its end is
  const from = rowFromPlace(view, first - (trueTime?.spacing ?? 1) + 1e-9);
  return [Math.max(0, Math.min(rows, from)), Math.max(0, Math.min(rows, rowFromPlace(view, first + count)))];
}

/** The rows in view and one beyond each edge, so that a line runs out of the picture and does not end in it. */
export function rowsAboutView(view: ViewWindow, rows: number): [number, number] {
  const [from, to] = rowsInView(view, rows);
  return [Math.max(0, from - 1), Math.min(rows, to + 1)];
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
