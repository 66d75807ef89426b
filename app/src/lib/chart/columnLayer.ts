import { asRange, extentOf } from './extent';
import { drawUprights, NARROW_PX, type Surface } from './layers';
import type { Ink } from './pen';
import { pxPerRow, rowsInView, xOfRow } from './viewWindow';

/** Columns that stand on zero. */
export function drawColumns(surface: Surface, values: Float64Array, ink: Ink): void {
  const { pen, view, y, widthPx } = surface;
  const roomPx = pxPerRow(view, widthPx);
  const ground = Math.round(y(0));
  if (roomPx < NARROW_PX) {
    const ranged = asRange(values);
    drawUprights(surface, values.length, ink, (_x, from, to) => {
      const extent = extentOf(ranged, from, to);
      return extent && [y(Math.max(extent[1], 0)), y(Math.min(extent[0], 0))];
    });
    return;
  }
  const width = Math.max(1, Math.min(15, Math.floor(roomPx * 0.66)) | 1);
  const [from, to] = rowsInView(view, values.length);
  for (let row = from; row < to; row++) {
    if (Number.isNaN(values[row])) continue;
    const top = Math.round(y(values[row]));
    const left = Math.round(xOfRow(view, row, widthPx) - width / 2);
    pen.block(ink, left, Math.min(top, ground), width, Math.max(1, Math.abs(ground - top)));
  }
}
