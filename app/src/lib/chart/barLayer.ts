import type { Inks } from './inks';
import { crisp, eachPixelColumn, NARROW_PX, type Surface } from './layers';
import { extentOf, type Summary } from './summary';
import { pxPerRow, rowsInView, xOfRow } from './viewWindow';

export interface CandleColumns {
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
  /** Of low and high. */
  summary: Summary;
}

/** Bars: a rising one open, in outline; a falling one filled; one without change a line across. */
export function drawCandles(surface: Surface, candles: CandleColumns, inks: Inks): void {
  const roomPx = pxPerRow(surface.view, surface.widthPx);
  if (roomPx < NARROW_PX) drawRanges(surface, candles, inks);
  else drawSingly(surface, candles, inks, roomPx);
}

/** Where bars have no room of their own: the range of all bars in each pixel column. */
function drawRanges(surface: Surface, { open, high, low, close, summary }: CandleColumns, inks: Inks): void {
  const { context, y } = surface;
  const ranged = { low, high, summary };
  const strokes = { rising: new Path2D(), falling: new Path2D() };
  eachPixelColumn(surface, close.length, (x, from, to) => {
    const extent = extentOf(ranged, from, to);
    if (!extent) return;
    const path = close[to - 1] < open[from] ? strokes.falling : strokes.rising;
    const [bottom, top] = [y(extent[0]), y(extent[1])];
    path.moveTo(x + 0.5, top);
    path.lineTo(x + 0.5, Math.max(bottom, top + 1));
  });
  context.lineWidth = 1;
  for (const [kind, path] of Object.entries(strokes)) {
    context.strokeStyle = inks[kind as keyof typeof strokes];
    context.stroke(path);
  }
}

function drawSingly(surface: Surface, { open, high, low, close }: CandleColumns, inks: Inks, roomPx: number): void {
  const { context, view, y, widthPx } = surface;
  const body = Math.max(1, Math.min(15, Math.floor(roomPx * 0.66)) | 1); // odd, so that the wick stands in its middle
  const rising = new Path2D();
  const falling = new Path2D();
  const filled = new Path2D();
  const [from, to] = rowsInView(view, close.length);
  for (let row = from; row < to; row++) {
    if (Number.isNaN(close[row])) continue;
    const x = crisp(xOfRow(view, row, widthPx) - 0.5);
    const top = Math.round(y(Math.max(open[row], close[row])));
    const bottom = Math.round(y(Math.min(open[row], close[row])));
    const falls = close[row] < open[row];
    const path = falls ? falling : rising;
    path.moveTo(x, Math.round(y(high[row])));
    path.lineTo(x, top);
    path.moveTo(x, bottom);
    path.lineTo(x, Math.round(y(low[row])));
    const left = x - body / 2;
    if (falls) filled.rect(left, top, body, Math.max(1, bottom - top));
    else if (body < 3 || bottom - top < 2) {
      path.moveTo(left, crisp(top - 0.5));
      path.lineTo(left + body, crisp(top - 0.5));
      if (bottom > top) path.rect(x - 0.5, top, 1, bottom - top);
    } else path.rect(left + 0.5, top + 0.5, body - 1, bottom - top - 1);
  }
  context.lineWidth = 1;
  context.strokeStyle = inks.rising;
  context.stroke(rising);
  context.strokeStyle = inks.falling;
  context.stroke(falling);
  context.fillStyle = inks.falling;
  context.fill(filled);
}
