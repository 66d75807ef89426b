import { firstRowFrom } from '@jaunty-ledger/core';
import type { Surface } from './layers';
import { rowsInView, xOfRow } from './viewWindow';

/** Radius of a ring, which is smaller where bars are narrow. */
const LARGEST_PX = 4;
const SMALLEST_PX = 2;

/**
 * A ring about each flagged record, at its bar and price; one beyond the scale is marked at the edge. Rings that would lie
 * on one another, their middles in one cell, are drawn once, so that it takes no longer for many.
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
  const barPx = ((view.trueTime?.spacing ?? 1) / view.count) * widthPx;
  const radius = Math.max(SMALLEST_PX, Math.min(LARGEST_PX, barPx));
  // less wide than high, so that each bar has its own
  const [cellWidth, cellHeight] = [radius, 2 * radius];
  const cellsDown = Math.ceil(heightPx / cellHeight) + 1;
  const taken = new Uint8Array((Math.ceil(widthPx / cellWidth) + 1) * cellsDown);
  const end = firstRowFrom(bar, to);
  pen.stroke({ colour, widthPx: radius < 3 ? 1 : 1.5 }, (path) => {
    for (let i = firstRowFrom(bar, from); i < end; i++) {
      const x = xOfRow(view, bar[i], widthPx);
      const at = Math.max(radius + 1, Math.min(heightPx - radius - 1, y(price[i])));
      const cell = Math.floor(x / cellWidth) * cellsDown + Math.floor(at / cellHeight);
      if (taken[cell] === 1) continue;
      taken[cell] = 1;
      path.moveTo(x + radius, at);
      path.arc(x, at, radius, 0, 2 * Math.PI);
    }
  });
}
