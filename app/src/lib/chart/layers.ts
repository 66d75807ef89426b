import type { Pen } from './pen';
import { rowFromPlace, rowsInView, type ViewWindow } from './viewWindow';

/** Where a layer draws: a pen, the rows in view and the scale of the lane. Widths are in CSS pixels. */
export interface Surface {
  pen: Pen;
  view: ViewWindow;
  /** Pixels from the top of a value. */
  y: (value: number) => number;
  widthPx: number;
  heightPx: number;
}

/** Below this a row has no room of its own and rows are drawn together, a pixel column at a time. */
export const NARROW_PX = 3;

/** Gives each pixel column of the view the rows [from, to) that fall into it. */
export function eachPixelColumn(
  { view, widthPx }: Pick<Surface, 'view' | 'widthPx'>,
  columnPx: number,
  rows: number,
  draw: (x: number, from: number, to: number) => void,
): void {
  const [first, end] = rowsInView(view, rows);
  const rowAt = (x: number): number => rowFromPlace(view, view.first + (x / widthPx) * view.count);
  let from = Math.max(first, rowAt(0));
  for (let column = 0; column * columnPx < widthPx && from < end; column++) {
    const to = Math.min(end, rowAt((column + 1) * columnPx));
    if (from < to) draw(column * columnPx, from, to);
    from = Math.max(from, to);
  }
}

/**
 * Upright bars, one for each pixel column that is given any: in one path, and no wider than a pixel, which of the ways to
 * paint a thousand of them is by far the quickest.
 * @param ends  the two ends of the bar of a pixel column with rows [from, to), in any order; undefined for none
 */
export function drawUprights(
  surface: Surface,
  rows: number,
  ink: { colour: string; strength?: number },
  ends: (x: number, from: number, to: number) => readonly [number, number] | undefined,
): void {
  const { columnPx } = surface.pen;
  surface.pen.stroke({ ...ink, widthPx: columnPx }, (path) =>
    eachPixelColumn(surface, columnPx, rows, (x, from, to) => {
      const bar = ends(x, from, to);
      if (!bar) return;
      path.moveTo(x + columnPx / 2, bar[0]);
      path.lineTo(x + columnPx / 2, bar[1]);
    }),
  );
}

/** Puts a stroke of one pixel on the pixel grid, so that it is sharp. */
export const crisp = (px: number): number => Math.round(px) + 0.5;
