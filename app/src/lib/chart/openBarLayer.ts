import type { Surface } from './layers';
import { xOfRow } from './viewWindow';

/** A dotted upright at the last bar, where it is still open: what stands there may change. */
export function drawOpenBar({ pen, view, widthPx, heightPx }: Surface, complete: Uint8Array, colour: string): void {
  const last = complete.length - 1;
  if (last < 0 || complete[last] === 1) return;
  const x = Math.round(xOfRow(view, last, widthPx)) + 0.5;
  if (x < 0 || x > widthPx) return;
  pen.stroke({ colour, widthPx: 1, dash: [1, 4] }, (path) => {
    path.moveTo(x, 2);
    path.lineTo(x, heightPx - 2);
  });
}
