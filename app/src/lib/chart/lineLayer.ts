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

/** Whether rows share a pixel: they are drawn together then. */
const isCrowded = (view: ViewWindow, widthPx: number): boolean => pxPerRow(view, widthPx) < 1;

/** A line through a column, broken where values are missing. */
export function drawLine(surface: Surface, values: Float64Array, summary: Summary, style: LineStyle): void {
  const { context, view, widthPx } = surface;
  context.save();
  context.globalAlpha = style.strength;
  if (isCrowded(view, widthPx)) {
    context.fillStyle = context.strokeStyle = style.colour;
    context.lineWidth = style.widthPx;
    fillRanges(surface, values, summary, style.widthPx);
  } else {
    context.strokeStyle = style.colour;
    context.lineWidth = style.widthPx;
    context.setLineDash([...style.dash]);
    // where turns are near each other, round joins cost a quarter of the painting and are not seen
    context.lineJoin = pxPerRow(view, widthPx) < 4 ? 'bevel' : 'round';
    context.beginPath();
    traceRows(surface, values, style.steps ?? false);
    context.stroke();
  }
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
  context.save();
  context.fillStyle = colour;
  context.globalAlpha = 0.09 * strength;
  if (isCrowded(view, widthPx)) {
    // a pixel column without rows, as nights are in true time, is filled as far as the next one that has some
    let last = -1;
    let end = NaN;
    eachPixelColumn(surface, upper.length, (x, row) => {
      if (isThere(row)) {
        if (x > end) {
          context.beginPath();
          context.moveTo(end, y(upper[last]));
          context.lineTo(x, y(upper[row]));
          context.lineTo(x, y(low(row)));
          context.lineTo(end, y(low(last)));
          context.fill();
        }
        context.fillRect(x, y(upper[row]), 1, y(low(row)) - y(upper[row]));
      }
      last = row;
      end = isThere(row) ? x + 1 : NaN;
    });
  } else {
    const [from, to] = rowsAboutView(view, upper.length);
    for (let start = from; start < to; start++) {
      if (!isThere(start)) continue;
      let end = start;
      while (end + 1 < to && isThere(end + 1)) end++;
      context.beginPath();
      for (let row = start; row <= end; row++) context.lineTo(xOfRow(view, row, widthPx), y(upper[row]));
      for (let row = end; row >= start; row--) context.lineTo(xOfRow(view, row, widthPx), y(low(row)));
      context.fill();
      start = end;
    }
  }
  context.restore();
}

/**
 * A bar in each pixel column from the least to the greatest value there, and from where the column before has ended: no
 * extreme is lost, however many rows there are. Upright bars are painted ten times as quickly as a line that goes up and
 * down in each column; they do not overlap, so a pale line is no darker where it turns, and have no dashes to be torn. Over
 * pixel columns without rows, as nights are in true time, it goes straight.
 */
function fillRanges(surface: Surface, values: Float64Array, summary: Summary, thickPx: number): void {
  const { context, y } = surface;
  const ranged = { low: values, high: values, summary };
  let before = NaN;
  let end = NaN;
  eachPixelColumn(surface, values.length, (x, from, to) => {
    const extent = extentOf(ranged, from, to);
    const isJoined = !Number.isNaN(before) && !Number.isNaN(values[from]);
    if (isJoined && x > end) {
      context.beginPath();
      context.moveTo(end, y(before));
      context.lineTo(x, y(values[from]));
      context.stroke();
    }
    const reached = extent && isJoined && x === end ? [...extent, before] : extent;
    before = values[to - 1];
    end = x + 1;
    if (!reached) return;
    const edges = reached.map(y);
    const top = Math.min(...edges);
    const height = Math.max(...edges) - top;
    const spare = Math.max(0, thickPx - height);
    context.fillRect(x, top - spare / 2, 1, height + spare);
  });
}
