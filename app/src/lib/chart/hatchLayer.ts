import type { Surface } from './layers';
import { xOfRow } from './viewWindow';

/** Height of the hatch. */
export const HATCH_PX = 12;
const STEP_PX = 7;

/** A pale hatch at the foot of the lane over the rows before an entry's first value. */
export function drawHatch({ pen, view, widthPx, heightPx }: Surface, rowsShort: number, colour: string): void {
  const end = Math.min(widthPx, xOfRow(view, rowsShort - 0.5, widthPx));
  const start = Math.max(0, xOfRow(view, -0.5, widthPx));
  if (end - start < 1) return;
  const foot = heightPx - 1;
  pen.stroke({ colour, widthPx: 1 }, (path) => {
    // each goes up as far as across; those at the edges are cut there
    for (let x = start - HATCH_PX; x < end; x += STEP_PX) {
      const [left, right] = [Math.max(x, start), Math.min(x + HATCH_PX, end)];
      path.moveTo(left, foot - (left - x));
      path.lineTo(right, foot - (right - x));
    }
  });
}
