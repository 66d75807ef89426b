import { firstRowFrom } from '@jaunty-ledger/core';
import type { Surface } from './layers';
import { rowsInView, xOfRow } from './viewWindow';

const RADIUS_PX = 4;
/** Rings lie on one another whose middles are in one cell of this size: less wide than high, so that each bar has its own. */
const CELL_PX = [RADIUS_PX, 2 * RADIUS_PX] as const;

/**
 * A ring about each flagged record, at its bar and price; one beyond the scale is marked at the edge. Rings that would lie
 * on one another are drawn once, so that it takes no longer for many.
 * @param bar    the bars that the records lie in, rising
 * @param price  what the records say
 */
export function drawFlags(
  { pen, view, y, widthPx, heightPx }: Surface,
  bars: number,
  bar: Float64Array,
  price: Float64Array,
  colour: string,
): void {
  const [from, to] = rowsInView(view, bars);
  const cellsDown = Math.ceil(heightPx / CELL_PX[1]) + 1;
  const taken = new Uint8Array((Math.ceil(widthPx / CELL_PX[0]) + 1) * cellsDown);
  const end = firstRowFrom(bar, to);
  pen.stroke({ colour, widthPx: 1.5 }, (path) => {
    for (let i = firstRowFrom(bar, from); i < end; i++) {
      const x = xOfRow(view, bar[i], widthPx);
      const at = Math.max(RADIUS_PX + 1, Math.min(heightPx - RADIUS_PX - 1, y(price[i])));
      const cell = Math.floor(x / CELL_PX[0]) * cellsDown + Math.floor(at / CELL_PX[1]);
      if (taken[cell] === 1) continue;
      taken[cell] = 1;
      path.moveTo(x + RADIUS_PX, at);
      path.arc(x, at, RADIUS_PX, 0, 2 * Math.PI);
    }
  });
}
