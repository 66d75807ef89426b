import type { Inks } from './inks';
import type { Surface } from './layers';
import type { Turn } from './turns';

/** The rules of a lane, under all that it shows: across at the figures of its scale, upright where days or years turn. */
export function drawRules(
  { pen, y, widthPx, heightPx }: Surface,
  ticks: readonly number[],
  turns: readonly Turn[],
  inks: Inks,
): void {
  for (const tick of ticks) pen.block({ colour: inks.faintRule }, 0, Math.round(y(tick) - 0.5), widthPx, 1);
  for (const main of [false, true])
    for (const { x, isMain } of turns)
      if (isMain === main)
        pen.block({ colour: main ? inks.rule : inks.faintRule }, Math.round(x - 0.5), 0, 1, heightPx);
}
