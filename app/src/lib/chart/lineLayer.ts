import { line } from 'd3-shape';
import { eachPixelColumn, type Surface } from './layers';
import { extentOf, type Summary } from './summary';
import { rowsInView, xOfRow } from './viewWindow';

export interface LineStyle {
  colour: string;
  widthPx: number;
  dash: readonly number[];
  /** 0 to 1; members of a fan go from light to strong. */
  strength: number;
}

/** A line through a column, broken where values are missing. */
export function drawLine(surface: Surface, values: Float64Array, summary: Summary, style: LineStyle): void {
  const { context, view, widthPx } = surface;
  context.save();
  context.strokeStyle = style.colour;
  context.globalAlpha = style.strength;
  context.lineWidth = style.widthPx;
  const isWide = view.count > 2 * widthPx;
  // drawn up and down within each pixel, dashes would tear the line to specks
  context.setLineDash(isWide ? [] : [...style.dash]);
  context.lineJoin = 'round';
  context.beginPath();
  if (isWide) traceRanges(surface, values, summary);
  else traceRows(surface, values);
  context.stroke();
  context.restore();
}

function traceRows({ context, view, y, widthPx }: Surface, values: Float64Array): void {
  // one row beyond each edge, so that the line runs out of the picture and does not end in it
  const [from, to] = rowsInView({ first: view.first - 1, count: view.count + 2 }, values.length);
  const rows = Array.from({ length: to - from }, (_, i) => from + i); // no longer than twice the pixels
  line<number>()
    .defined((row) => !Number.isNaN(values[row]))
    .x((row) => xOfRow(view, row, widthPx))
    .y((row) => y(values[row]))
    .context(context)(rows);
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
