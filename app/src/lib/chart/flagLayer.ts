import { firstRowFrom } from '@jaunty-ledger/core';
import type { Surface } from './layers';
import { rowsInView, xOfRow } from './viewWindow';

const RADIUS_PX = 4;

/** A ring about each flagged record, at its bar and price; one beyond the scale is marked at the edge. */
export function drawFlags(
  { context, view, y, widthPx, heightPx }: Surface,
  barTime: Float64Array,
  time: Float64Array,
  price: Float64Array,
  colour: string,
): void {
  const [from, to] = rowsInView(view, barTime.length);
  context.strokeStyle = colour;
  context.lineWidth = 1.5;
  for (let i = 0; i < time.length; i++) {
    // the bar that the record lies in, or the one before where it lies in none
    const row = firstRowFrom(barTime, time[i] + 1) - 1;
    if (row < from || row >= to) continue;
    const at = Math.max(RADIUS_PX + 1, Math.min(heightPx - RADIUS_PX - 1, y(price[i])));
    context.beginPath();
    context.arc(xOfRow(view, row, widthPx), at, RADIUS_PX, 0, 2 * Math.PI);
    context.stroke();
  }
}
