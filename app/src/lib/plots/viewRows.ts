import { barsToCome, parseBarRule, type Calendar } from '@jaunty-ledger/core';
import { clamped, placeOfRow, type TrueTime, type ViewWindow } from '$lib/chart/viewWindow';

/* Where one looks, in rows and in places. */

/** Starts of the bars and of so many to come; those of bars that do not go by the clock are not known. */
export function timesWithThoseToCome(
  time: Float64Array,
  count: number,
  rule: string,
  calendar: Calendar,
): Float64Array {
  if (count === 0 || time.length === 0) return time;
  const { start: coming } = barsToCome(parseBarRule(rule), calendar, time[time.length - 1], count);
  const times = new Float64Array(time.length + coming.length);
  times.set(time);
  times.set(coming, time.length);
  return times;
}

/** The places that so many rows take, the first `bars` of them bars. */
export function placesOf(rows: number, bars: number, trueTime: TrueTime | undefined): number {
  if (!trueTime || rows === bars) return rows;
  return Math.ceil(placeOfRow({ first: 0, count: 1, trueTime }, rows - 1) + 1);
}

/** The view of rows [from, to), of so many places in all. */
export function viewOfRows(from: number, to: number, places: number, trueTime: TrueTime | undefined): ViewWindow {
  const axis = { first: 0, count: 1, trueTime };
  const first = placeOfRow(axis, from);
  const count = placeOfRow(axis, to - 1) + (trueTime?.spacing ?? 1) - first;
  return clamped({ first, count, trueTime }, places);
}

/** The view moved so that it shows a row: as little as need be, or with the row in its middle where that is far off. */
export function viewWithRow(view: ViewWindow, row: number, from: number, to: number): ViewWindow {
  if (row >= from && row + 1 < to) return view;
  const place = placeOfRow(view, row);
  if (row < from - 1 || row > to) return { ...view, first: place - view.count / 2 };
  if (row < from) return { ...view, first: place };
  return { ...view, first: Math.max(view.first, place + (view.trueTime?.spacing ?? 1) - view.count) };
}
