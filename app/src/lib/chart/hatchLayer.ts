import type { Surface } from './layers';
import { xOfRow } from './viewWindow';

/** Height of the hatch. */
export const HATCH_PX = 12;
const STEP_PX = 7;

/** A pale hatch at the foot of the lane over the rows before an entry's first value. */
export function drawHatch({ context, view, widthPx, heightPx }: Surface, rowsShort: number, colour: string): void {
  const end = Math.min(widthPx, xOfRow(view, rowsShort - 0.5, widthPx));
  const start = Math.max(0, xOfRow(view, -0.5, widthPx));
  if (end - start < 1) return;
  const top = heightPx - HATCH_PX - 1;
  context.save();
  context.beginPath();
  context.rect(start, top, end - start, HATCH_PX);
  context.clip();
  context.beginPath();
  for (let x = start - HATCH_PX; x < end; x += STEP_PX) {
    context.moveTo(x, heightPx - 1);
    context.lineTo(x + HATCH_PX, top);
  }
  context.strokeStyle = colour;
  context.lineWidth = 1;
  context.stroke();
  context.restore();
}
