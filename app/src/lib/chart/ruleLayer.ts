import type { Inks } from './inks';
import type { Surface } from './layers';
import type { CalendarTick } from './calendarTicks';

/** The rules of a lane, under all that it shows: across at the figures of its scale, upright where days or years turn. */
export function drawRules(
  { pen, y, widthPx, heightPx }: Surface,
  ticks: readonly number[],
  calendarTicks: readonly CalendarTick[],
  inks: Inks,
): void {
  for (const tick of ticks) pen.block({ colour: inks.faintRule }, 0, Math.round(y(tick) - 0.5), widthPx, 1);
  for (const main of [false, true])
    for (const { x, isMain } of calendarTicks)
      if (isMain === main)
        pen.block({ colour: main ? inks.rule : inks.faintRule }, Math.round(x - 0.5), 0, 1, heightPx);
}
