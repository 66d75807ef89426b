import { curveStepAfter, line } from 'd3-shape';
import { eachPixelColumn, type Surface } from './layers';
import { extentOf, type Summary } from './summary';
import { pxPerRow, rowsAboutView, rowsInView, xOfRow, type ViewWindow } from './viewWindow';

export interface LineStyle {
  colour: string;
  widthPx: number;
  dash: readonly number[];
  /** 0 to 1; members of a fan go from light to strong. */
  strength: number;
  /** Each value kept until the next, as a stair. */
  steps?: boolean;
}

/** Whether more rows than two share a pixel: they are drawn together then. */
const isCrowded = (view: ViewWindow, widthPx: number): boolean => pxPerRow(view, widthPx) < 0.5;

/** A line through a column, broken where values are missing. */
export function drawLine(surface: Surface, values: Float64Array, summary: Summary, style: LineStyle): void {
  const { context, view, widthPx } = surface;
  context.save();
  context.strokeStyle = style.colour;
  context.globalAlpha = style.strength;
  context.lineWidth = style.widthPx;
  const isWide = isCrowded(view, widthPx);
  // drawn up and down within each pixel, dashes would tear the line to specks
  context.setLineDash(isWide ? [] : [...style.dash]);
  context.lineJoin = 'round';
  context.beginPath();
  if (isWide) traceRanges(surface, values, summary);
  else traceRows(surface, values, style.steps ?? false);
  context.stroke();
  context.restore();
}

function traceRows({ context, view, y, widthPx }: Surface, values: Float64Array, steps: boolean): void {
  const [from, to] = rowsAboutView(view, values.length);
  const rows = Array.from({ length: to - from }, (_, i) => from + i); // no longer than twice the pixels
  const path = line<number>().defined((row) => !Number.isNaN(values[row]));
  if (steps) path.curve(curveStepAfter);
  path
    .x((row) => xOfRow(view, row, widthPx))
    .y((row) => y(values[row]))
    .context(context)(rows);
}

/** A dot at each value. */
export function drawDots(
  surface: Surface,
  values: Float64Array,
  summary: Summary,
  { colour, widthPx: size, strength }: LineStyle,
): void {
  const { context, view, y, widthPx } = surface;
  context.save();
  context.fillStyle = colour;
  context.globalAlpha = strength;
  const radius = Math.max(1, Math.min(size + 0.6, pxPerRow(view, widthPx) * 0.4));
  const dot = (x: number, value: number) => {
    context.beginPath();
    context.arc(x, y(value), radius, 0, 2 * Math.PI);
    context.fill();
  };
  if (isCrowded(view, widthPx)) {
    const ranged = { low: values, high: values, summary };
    eachPixelColumn(surface, values.length, (x, from, to) => {
      for (const value of new Set(extentOf(ranged, from, to) ?? [])) context.fillRect(x, y(value), 1, 1.5);
    });
  } else {
    const [from, to] = rowsInView(view, values.length);
    for (let row = from; row < to; row++) if (!Number.isNaN(values[row])) dot(xOfRow(view, row, widthPx), values[row]);
  }
  context.restore();
}

/** The space between two lines, or between a line and a level, as a pale wash. */
export function drawArea(
  surface: Surface,
  upper: Float64Array,
  lower: Float64Array | number,
  colour: string,
  strength: number,
): void {
  const { context, view, y, widthPx } = surface;
  const low = (row: number) => (typeof lower === 'number' ? lower : lower[row]);
  const isThere = (row: number) => !Number.isNaN(upper[row]) && !Number.isNaN(low(row));
  const [from, to] = rowsAboutView(view, upper.length);
  // no more corners than pixels: in a wide view every so many rows stand for all
  const step = Math.max(1, Math.floor(1 / pxPerRow(view, widthPx) / 2));
  context.save();
  context.fillStyle = colour;
  context.globalAlpha = 0.09 * strength;
  for (let start = from; start < to; start += step) {
    if (!isThere(start)) continue;
    let end = start;
    while (end + step < to && isThere(end + step)) end += step;
    context.beginPath();
    for (let row = start; row <= end; row += step) context.lineTo(xOfRow(view, row, widthPx), y(upper[row]));
    for (let row = end; row >= start; row -= step) context.lineTo(xOfRow(view, row, widthPx), y(low(row)));
    context.fill();
    start = end;
  }
  context.restore();
}

/** Per pixel column the first, least, greatest and last value: no extreme is lost, however many rows there are. */
function traceRanges(surface: Surface, values: Float64Array, summary: Summary): void {
  const { context, y } = surface;
  const ranged = { low: values, high: values, summary };
  let isDown = false;
  eachPixelColumn(surface, values.length, (x, from, to) => {
    const extent = extentOf(ranged, from, to);
    if (!extent) {
      isDown = false;
      return;
    }
    const centre = x + 0.5;
    const enter = values[from];
    const leave = values[to - 1];
    if (isDown && !Number.isNaN(enter)) context.lineTo(centre, y(enter));
    else context.moveTo(centre, y(Number.isNaN(enter) ? extent[0] : enter));
    context.lineTo(centre, y(extent[0]));
    context.lineTo(centre, y(extent[1]));
    if (Number.isNaN(leave)) isDown = false;
    else {
      context.lineTo(centre, y(leave));
      isDown = true;
    }
  });
}
