import { asRange, extentOf } from './extent';
import { drawUprights, type Surface } from './layers';
import type { Ink, Stroke } from './pen';
import { pxPerRow, rowsAboutView, rowsInView, xOfRow, type ViewWindow } from './viewWindow';

export interface LineStyle extends Stroke {
  /** Each value kept until the next, as a stair. */
  steps?: boolean;
}

/** Whether rows share a pixel: they are drawn together then. */
const isCrowded = (view: ViewWindow, widthPx: number): boolean => pxPerRow(view, widthPx) < 1;

/** A line through a column, broken where values are missing. */
export function drawLine(surface: Surface, values: Float64Array, style: LineStyle): void {
  if (isCrowded(surface.view, surface.widthPx)) drawRanges(surface, values, style);
  else drawThroughRows(surface, values, style);
}

function drawThroughRows({ pen, view, y, widthPx }: Surface, values: Float64Array, style: LineStyle): void {
  const [from, to] = rowsAboutView(view, values.length);
  pen.stroke(style, (path) => {
    let before = NaN;
    for (let row = from; row < to; row++) {
      if (!Number.isNaN(values[row])) {
        const [x, at] = [xOfRow(view, row, widthPx), y(values[row])];
        if (!Number.isNaN(before)) {
          if (style.steps) path.lineTo(x, y(before));
          path.lineTo(x, at);
        } else if (row + 1 < to && !Number.isNaN(values[row + 1])) path.moveTo(x, at);
        else {
          // a value that stands alone is a point
          path.moveTo(x - style.widthPx / 2, at);
          path.lineTo(x + style.widthPx / 2, at);
        }
      }
      before = values[row];
    }
  });
}

/** A dot at each value. */
export function drawDots(surface: Surface, values: Float64Array, style: LineStyle): void {
  const { pen, view, y, widthPx } = surface;
  if (isCrowded(view, widthPx)) {
    const ranged = asRange(values);
    for (const end of [0, 1])
      drawUprights(surface, values.length, style, (_x, from, to) => {
        const extent = extentOf(ranged, from, to);
        return extent && [y(extent[end]), y(extent[end]) + 1.5];
      });
    return;
  }
  const radius = Math.max(1, Math.min(style.widthPx + 0.6, pxPerRow(view, widthPx) * 0.4));
  const [from, to] = rowsInView(view, values.length);
  pen.fill(style, (path) => {
    for (let row = from; row < to; row++) {
      if (Number.isNaN(values[row])) continue;
      const [x, at] = [xOfRow(view, row, widthPx), y(values[row])];
      path.moveTo(x + radius, at);
      path.arc(x, at, radius, 0, 2 * Math.PI);
    }
  });
}

/** The space between two lines, or between a line and a level, as a pale wash. */
export function drawArea(surface: Surface, upper: Float64Array, lower: Float64Array | number, ink: Ink): void {
  const { pen, view, y, widthPx } = surface;
  const low = (row: number) => (typeof lower === 'number' ? lower : lower[row]);
  const isThere = (row: number) => !Number.isNaN(upper[row]) && !Number.isNaN(low(row));
  const wash = { ...ink, strength: 0.09 * (ink.strength ?? 1) };
  if (isCrowded(view, widthPx)) {
    // a pixel column without rows, as nights are in true time, is filled as far as the next one that has some
    const nights: [x: number, row: number][][] = [];
    let before: [x: number, row: number] | undefined;
    drawUprights(surface, upper.length, wash, (x, row) => {
      const night = before && x > before[0] + pen.columnPx / 2 ? before : undefined;
      before = isThere(row) ? [x + pen.columnPx, row] : undefined;
      if (!isThere(row)) return undefined;
      if (night) nights.push([night, [x, row]]);
      return [y(upper[row]), y(low(row))];
    });
    if (nights.length > 0)
      pen.fill(wash, (path) => {
        for (const [from, to] of nights) {
          path.moveTo(from[0], y(upper[from[1]]));
          path.lineTo(to[0], y(upper[to[1]]));
          path.lineTo(to[0], y(low(to[1])));
          path.lineTo(from[0], y(low(from[1])));
        }
      });
    return;
  }
  const [from, to] = rowsAboutView(view, upper.length);
  const x = (row: number) => xOfRow(view, row, widthPx);
  pen.fill(wash, (path) => {
    for (let start = from; start < to; start++) {
      if (!isThere(start)) continue;
      let end = start;
      while (end + 1 < to && isThere(end + 1)) end++;
      path.moveTo(x(start), y(upper[start]));
      for (let row = start + 1; row <= end; row++) path.lineTo(x(row), y(upper[row]));
      for (let row = end; row >= start; row--) path.lineTo(x(row), y(low(row)));
      start = end;
    }
  });
}

/**
 * A bar in each pixel column from the least to the greatest value there, and from where the column before has ended: no
 * extreme is lost, however many rows there are. Upright bars do not overlap, so a pale line is no darker where it turns,
 * and have no dashes to be torn. Over pixel columns without rows, as nights are in true time, it goes straight.
 */
function drawRanges(surface: Surface, values: Float64Array, style: LineStyle): void {
  const { pen, y } = surface;
  const ranged = asRange(values);
  const nights: [x: number, y: number][][] = [];
  let before = NaN;
  let end = NaN;
  drawUprights(surface, values.length, { colour: style.colour, strength: style.strength }, (x, from, to) => {
    const extent = extentOf(ranged, from, to);
    const isJoined = !Number.isNaN(before) && !Number.isNaN(values[from]);
    const isNext = x < end + pen.columnPx / 2;
    if (isJoined && !isNext)
      nights.push([
        [end, y(before)],
        [x, y(values[from])],
      ]);
    const met = isJoined && isNext ? y(before) : NaN;
    before = values[to - 1];
    end = x + pen.columnPx;
    if (!extent) return undefined;
    const [one, other] = [y(extent[0]), y(extent[1])];
    let [top, bottom] = one < other ? [one, other] : [other, one];
    if (met < top) top = met;
    if (met > bottom) bottom = met;
    const spare = Math.max(0, style.widthPx - (bottom - top)) / 2;
    return [top - spare, bottom + spare];
  });
  if (nights.length > 0)
    pen.stroke({ ...style, dash: undefined }, (path) => {
      for (const [from, to] of nights) {
        path.moveTo(from[0], from[1]);
        path.lineTo(to[0], to[1]);
      }
    });
}
