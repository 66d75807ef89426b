import { rowFromPlace, rowsInView, type ViewWindow } from './viewWindow';

/** Where a layer draws: a canvas, the rows in view and the scale of the lane. Widths are in CSS pixels. */
export interface Surface {
  context: CanvasRenderingContext2D;
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
  { view, widthPx }: Surface,
  rows: number,
  draw: (x: number, from: number, to: number) => void,
): void {
  const [first, end] = rowsInView(view, rows);
  const rowAt = (x: number): number => rowFromPlace(view, view.first + (x / widthPx) * view.count);
  let from = Math.max(first, rowAt(0));
  for (let x = 0; x < widthPx && from < end; x++) {
    const to = Math.min(end, rowAt(x + 1));
    if (from < to) draw(x, from, to);
    from = Math.max(from, to);
  }
}

/** Puts a stroke of one pixel on the pixel grid, so that it is sharp. */
export const crisp = (px: number): number => Math.round(px) + 0.5;
