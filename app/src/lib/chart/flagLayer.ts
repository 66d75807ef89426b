import { firstRowFrom } from '@jaunty-ledger/core';
import type { Surface } from './layers';
import { rowsInView, xOfRow } from './viewWindow';

const RADIUS_PX = 4;

/** A ring about each flagged record, at its bar and price; one beyond the scale is marked at the edge. */
export function drawFlags(
  { pen, view, y, widthPx, heightPx }: Surface,
  barTime: Float64Array,
  time: Float64Array,
  price: Float64Array,
  colour: string,
): void {
  const [from, to] = rowsInView(view, barTime.length);
  pen.stroke({ colour, widthPx: 1.5 }, (path) => {
    for (let i = 0; i < time.length; i++) {
      // the bar that the record lies in, or the one before where it lies in none
      const row = firstRowFrom(barTime, time[i] + 1) - 1;
      if (row < from || row >= to) continue;
      const x = xOfRow(view, row, widthPx);
      const at = Math.max(RADIUS_PX + 1, Math.min(heightPx - RADIUS_PX - 1, y(price[i])));
      path.moveTo(x + RADIUS_PX, at);
      path.arc(x, at, RADIUS_PX, 0, 2 * Math.PI);
    }
  });
}
