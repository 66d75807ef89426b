import { pathRound } from 'd3-path';
import type { Ink, Pen, Stroke, Trace } from './pen';

/** Draws into an SVG document: its elements, as they are to be written. */
export class SvgPen implements Pen {
  readonly columnPx = 1;
  readonly elements: string[] = [];

  stroke({ colour, widthPx, dash, strength = 1 }: Stroke, trace: (path: Trace) => void): void {
    const dashes = dash && dash.length > 0 ? ` stroke-dasharray="${dash.join(' ')}"` : '';
    this.add(
      trace,
      `fill="none" stroke="${colour}" stroke-width="${widthPx}" stroke-linejoin="round"${dashes}`,
      strength,
    );
  }

  fill({ colour, strength = 1 }: Ink, trace: (path: Trace) => void): void {
    this.add(trace, `fill="${colour}"`, strength);
  }

  block(ink: Ink, x: number, y: number, width: number, height: number): void {
    this.fill(ink, (path) => path.rect(x, y, width, height));
  }

  private add(trace: (path: Trace) => void, style: string, strength: number): void {
    const path = pathRound(2);
    trace(path);
    const opacity = strength < 1 ? ` opacity="${strength.toFixed(3)}"` : '';
    if (String(path) !== '') this.elements.push(`<path d="${path}" ${style}${opacity}/>`);
  }
}
