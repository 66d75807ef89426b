/** What a path is traced with; the path of a canvas offers it, and so does that of a document. */
export type Trace = Pick<CanvasPath, 'moveTo' | 'lineTo' | 'rect' | 'arc'>;

export interface Ink {
  colour: string;
  /** 0 to 1; full where it is not given. */
  strength?: number;
}

export interface Stroke extends Ink {
  widthPx: number;
  dash?: readonly number[];
}

/** What the layers of a chart are drawn with, on a canvas or into a document of lines. Lengths are in CSS pixels. */
export interface Pen {
  /** Width of the columns in which rows are drawn together that have no room of their own. */
  readonly columnPx: number;
  stroke(style: Stroke, trace: (path: Trace) => void): void;
  fill(ink: Ink, trace: (path: Trace) => void): void;
  /** An upright rectangle. */
  block(ink: Ink, x: number, y: number, width: number, height: number): void;
}

/** Looks up the inks of a paper, which the layers name as styles do: `var(--ink-3)`. */
export function inkReader(of: Element): (colour: string) => string {
  const style = getComputedStyle(of);
  const known = new Map<string, string>();
  return (colour) => {
    let found = known.get(colour);
    if (found === undefined) {
      const name = /^var\((--[\w-]+)\)$/.exec(colour)?.[1];
      known.set(colour, (found = name ? style.getPropertyValue(name).trim() : colour));
    }
    return found;
  };
}

/** Strokes up to this many pixels of the screen are made of hairlines. */
const HAIRLINES_UPTO = 2.2;

/** Where the hairlines of a stroke lie about its middle, in halves of what it is wider than they are. */
const TRIANGLE = [
  [-1, -0.58],
  [1, -0.58],
  [0, 1.16],
] as const;
const MIDDLE = [[0, 0]] as const;

/** Draws on a canvas whose context is scaled to CSS pixels. */
export class CanvasPen implements Pen {
  /** A pixel of the screen. */
  readonly columnPx: number;

  constructor(
    private readonly context: CanvasRenderingContext2D,
    ratio: number,
    /** What the canvas calls a colour. */
    private readonly read: (colour: string) => string = (colour) => colour,
  ) {
    this.columnPx = 1 / ratio;
  }

  /**
   * A stroke wider than a pixel of the screen is painted as an outline that is filled, which takes ten times as long as a
   * hairline. A narrow one is therefore laid down as three hairlines, in a triangle about its middle; the eye sees no
   * difference, whichever way it goes.
   */
  stroke({ colour, widthPx, dash, strength = 1 }: Stroke, trace: (path: Trace) => void): void {
    const { context, columnPx } = this;
    const path = new Path2D();
    trace(path);
    const isThreefold = widthPx > columnPx && widthPx <= HAIRLINES_UPTO * columnPx;
    context.strokeStyle = this.read(colour);
    context.setLineDash(dash ? [...dash] : []);
    context.lineJoin = 'round';
    context.lineWidth = isThreefold ? columnPx : widthPx;
    context.globalAlpha = isThreefold ? 1 - Math.cbrt(1 - strength) : strength; // three over each other are as strong as one
    const half = (widthPx - columnPx) / 2;
    for (const [across, down] of isThreefold ? TRIANGLE : MIDDLE) {
      context.translate(across * half, down * half);
      context.stroke(path);
      context.translate(-across * half, -down * half);
    }
    context.globalAlpha = 1;
  }

  fill({ colour, strength = 1 }: Ink, trace: (path: Trace) => void): void {
    const path = new Path2D();
    trace(path);
    this.context.fillStyle = this.read(colour);
    this.context.globalAlpha = strength;
    this.context.fill(path);
    this.context.globalAlpha = 1;
  }

  block({ colour, strength = 1 }: Ink, x: number, y: number, width: number, height: number): void {
    this.context.fillStyle = this.read(colour);
    this.context.globalAlpha = strength;
    this.context.fillRect(x, y, width, height);
    this.context.globalAlpha = 1;
  }
}
