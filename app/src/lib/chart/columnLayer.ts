import { eachPixelColumn, NARROW_PX, type Surface } from './layers';
import { extentOf, type Summary } from './summary';
import { pxPerRow, rowsInView, xOfRow } from './viewWindow';

/** Columns that stand on zero. */
export function drawColumns(surface: Surface, values: Float64Array, summary: Summary, colour: string): void {
  const { context, view, y, widthPx } = surface;
  const roomPx = pxPerRow(view, widthPx);
  const ground = Math.round(y(0));
  context.fillStyle = colour;
  if (roomPx < NARROW_PX) {
    const ranged = { low: values, high: values, summary };
    eachPixelColumn(surface, values.length, (x, from, to) => {
      const extent = extentOf(ranged, from, to);
      if (extent)
        context.fillRect(x, y(Math.max(extent[1], 0)), 1, y(Math.min(extent[0], 0)) - y(Math.max(extent[1], 0)));
    });
    return;
  }
  const width = Math.max(1, Math.min(15, Math.floor(roomPx * 0.66)) | 1);
  const [from, to] = rowsInView(view, values.length);
  for (let row = from; row < to; row++) {
    if (Number.isNaN(values[row])) continue;
    const top = Math.round(y(values[row]));
    context.fillRect(
      Math.round(xOfRow(view, row, widthPx) - width / 2),
      Math.min(top, ground),
      width,
      Math.max(1, Math.abs(ground - top)),
    );
  }
}
