import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drawCandles } from './barLayer';
import { drawColumns } from './columnLayer';
import { drawFlags } from './flagLayer';
import { drawHatch } from './hatchLayer';
import type { Inks } from './inks';
import type { Surface } from './layers';
import { drawArea, drawDots, drawLine, type LineStyle } from './lineLayer';
import type { Ink, Pen, Stroke, Trace } from './pen';
import { SvgPen } from './svgPen';
import { trueTimeOf, wholeSpan, type ViewWindow } from './viewWindow';

/* What the layers draw, as a list of marks: by a pen that writes down what it is told. */

interface Mark {
  act: 'stroke' | 'fill' | 'block';
  colour: string;
  points: [x: number, y: number][];
  /** How many pieces the path has. */
  pieces: number;
  dash: readonly number[];
}

class Recorder implements Pen {
  readonly columnPx = 1;
  readonly marks: Mark[] = [];
  stroke = ({ colour, dash = [] }: Stroke, trace: (path: Trace) => void) => this.note('stroke', colour, trace, dash);
  fill = ({ colour }: Ink, trace: (path: Trace) => void) => this.note('fill', colour, trace);
  block = ({ colour }: Ink, x: number, y: number, width: number, height: number) =>
    this.note('block', colour, (path) => path.rect(x, y, width, height));
  private note(act: Mark['act'], colour: string, trace: (path: Trace) => void, dash: readonly number[] = []): void {
    const mark: Mark = { act, colour, points: [], pieces: 0, dash };
    const begin = (...points: Mark['points']) => void (mark.points.push(...points), mark.pieces++);
    trace({
      moveTo: (x, y) => begin([x, y]),
      lineTo: (x, y) => void mark.points.push([x, y]),
      rect: (x, y, width, height) => begin([x, y], [x + width, y + height]),
      arc: (x, y) => void mark.points.splice(-1, 1, [x, y]), // in place of where it begins
    });
    if (mark.pieces > 0) this.marks.push(mark);
  }
}

const WIDTH = 300;
const HEIGHT = 100;

function drawn(view: ViewWindow, draw: (surface: Surface) => void, low = 0, high = 100): Mark[] {
  const pen = new Recorder();
  const y = (value: number) => HEIGHT * (1 - (value - low) / (high - low));
  draw({ pen, view, y, widthPx: WIDTH, heightPx: HEIGHT });
  return pen.marks;
}

/** The uprights of a mark: their columns with both ends. */
const uprights = ({ points }: Mark) =>
  Array.from({ length: points.length / 2 }, (_, k) => {
    const [[x, a], [, b]] = [points[2 * k], points[2 * k + 1]];
    return { x, top: Math.min(a, b), bottom: Math.max(a, b) };
  });

const inks = { rising: 'blue', falling: 'rust' } as Inks;
const style: LineStyle = { colour: 'green', widthPx: 1.5, dash: [4, 2], strength: 1 };
const column = (...values: number[]) => Float64Array.from(values);
const candles = (rows: [open: number, high: number, low: number, close: number][]) => {
  const [open, high, low, close] = [0, 1, 2, 3].map((field) => Float64Array.from(rows, (row) => row[field]));
  return { open, high, low, close };
};

describe('bars', () => {
  const view = wholeSpan(3);

  it('that rise are open and in outline, those that fall are filled', () => {
    const marks = drawn(view, (surface) =>
      drawCandles(
        surface,
        candles([
          [40, 60, 30, 50],
          [50, 55, 20, 25],
          [25, 25, 25, 25],
        ]),
        inks,
      ),
    );
    const of = (act: Mark['act'], colour: string) => marks.filter((mark) => mark.act === act && mark.colour === colour);
    expect(of('fill', 'rust').length).toBe(1);
    expect(of('fill', 'blue')).toEqual([]);
    const [body] = of('fill', 'rust');
    expect(body.points.map(([, y]) => y)).toEqual([50, 75]); // from the open at 50 down to the close at 25
    const heights = of('stroke', 'blue').flatMap(({ points }) => points.map(([, y]) => y));
    expect([Math.min(...heights), Math.max(...heights)]).toEqual([40, 75.5]); // the high of the first, the line of the last
  });

  it('without prices leave their place empty', () => {
    const gap = drawn(view, (surface) =>
      drawCandles(
        surface,
        candles([
          [40, 60, 30, 50],
          [NaN, NaN, NaN, NaN],
          [40, 60, 30, 50],
        ]),
        inks,
      ),
    );
    const xs = gap.flatMap(({ points }) => points.map(([x]) => x));
    expect(xs.every((x) => x < WIDTH / 3 || x > (2 * WIDTH) / 3)).toBe(true);
  });

  it('too many for their width are drawn as the range of each pixel, and none of it is lost', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 99 }), { minLength: 400, maxLength: 2000 }), (prices) => {
        const rows = prices.map((price): [number, number, number, number] => [price, price + 0.5, price - 0.5, price]);
        const marks = drawn(wholeSpan(rows.length), (surface) => drawCandles(surface, candles(rows), inks));
        const ys = marks.flatMap(({ points }) => points.map(([, y]) => y));
        expect(Math.min(...ys)).toBeCloseTo(100 - Math.max(...prices) - 0.5);
        expect(Math.max(...ys)).toBeGreaterThanOrEqual(100 - Math.min(...prices) + 0.5 - 1e-9);
      }),
      { numRuns: 30 },
    ));
});

describe('a line', () => {
  it('goes through the middle of its rows', () => {
    const values = column(10, 20, 30);
    const [{ points, dash }] = drawn(wholeSpan(3), (surface) => drawLine(surface, values, style));
    expect(points).toEqual([
      [50, 90],
      [150, 80],
      [250, 70],
    ]);
    expect(dash).toEqual([4, 2]);
  });

  it('as a stair keeps each value until the next', () => {
    const values = column(10, 20);
    const [{ points }] = drawn(wholeSpan(2), (surface) => drawLine(surface, values, { ...style, steps: true }));
    expect(points).toEqual([
      [75, 90],
      [225, 90],
      [225, 80],
    ]);
  });

  it('shows a value that stands alone, as a point', () => {
    const values = column(NaN, 40, NaN);
    const [{ points }] = drawn(wholeSpan(3), (surface) => drawLine(surface, values, style));
    expect(points.map(([, y]) => y)).toEqual([60, 60]);
    expect(points[1][0] - points[0][0]).toBeCloseTo(style.widthPx);
  });

  it('never goes where there is no value, however many rows share a pixel', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: 0, max: 100 }), fc.constant(NaN)), { minLength: 1, maxLength: 1500 }),
        fc.constantFrom('line', 'dots', 'area', 'columns'),
        (values, shape) => {
          const x = Float64Array.from(values);
          const marks = drawn(wholeSpan(x.length), (surface) => {
            if (shape === 'line') drawLine(surface, x, style);
            if (shape === 'dots') drawDots(surface, x, style);
            if (shape === 'area') drawArea(surface, x, 0, { colour: 'green' });
            if (shape === 'columns') drawColumns(surface, x, { colour: 'green' });
          });
          for (const { points } of marks)
            for (const [px, py] of points) {
              expect(Number.isFinite(px) && Number.isFinite(py)).toBe(true);
              expect(py >= -3 && py <= HEIGHT + 3).toBe(true);
            }
          if (values.every(Number.isNaN)) expect(marks).toEqual([]);
        },
      ),
      { numRuns: 60 },
    ));

  it('of a million rows reaches its extremes', () => {
    const values = Float64Array.from({ length: 1_000_000 }, (_, i) => 50 + 10 * Math.sin(i / 1000));
    values[500_123] = 99;
    const [line] = drawn(wholeSpan(values.length), (surface) => drawLine(surface, values, style));
    expect(Math.min(...uprights(line).map(({ top }) => top))).toBeCloseTo(1);
    expect(line.pieces).toBeLessThanOrEqual(WIDTH);
  });

  it('goes straight over a night in true time, as the wash below it does', () => {
    const times = Float64Array.from({ length: 2000 }, (_, row) => (row + (row < 1000 ? 0 : 2000)) * 60e6);
    const x = times.map((_, row) => (row < 1000 ? 40 : 60));
    const view = wholeSpan(x.length, trueTimeOf(times, x.length));
    const marks = drawn(view, (surface) => {
      drawLine(surface, x, style);
      drawArea(surface, x, 0, { colour: 'green' });
    });
    expect(marks.map(({ act }) => act)).toEqual(['stroke', 'stroke', 'stroke', 'fill']);
    const [, night, , wash] = marks;
    for (const { points } of [night, wash]) {
      expect(points[1][0] - points[0][0]).toBeGreaterThan(WIDTH / 3);
      expect([points[0][1], points[1][1]]).toEqual([60, 40]);
    }
    expect([night.pieces, wash.pieces]).toEqual([1, 1]);
  });

  it('is not broken where rows share a pixel, however it turns', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 100 }), { minLength: WIDTH + 1, maxLength: 3000 }), (values) => {
        const x = Float64Array.from(values);
        const [line] = drawn(wholeSpan(x.length), (surface) => drawLine(surface, x, style));
        const bars = uprights(line);
        expect(bars.length).toBe(WIDTH);
        bars.slice(1).forEach((bar, k) => {
          expect(bar.x - bars[k].x).toBe(1);
          expect(bar.top).toBeLessThanOrEqual(bars[k].bottom + 1e-9);
          expect(bar.bottom).toBeGreaterThanOrEqual(bars[k].top - 1e-9);
        });
      }),
      { numRuns: 40 },
    ));
});

describe('columns', () => {
  it('stand on zero, up or down', () => {
    const values = column(20, -10, 0);
    const marks = drawn(wholeSpan(3), (surface) => drawColumns(surface, values, { colour: 'green' }), -50, 50);
    expect(marks.map(({ points: [[, top], [, foot]] }) => [top, foot])).toEqual([
      [30, 50],
      [50, 60],
      [50, 51],
    ]);
  });
});

describe('the hatch of a blank start', () => {
  const hatch = (view: ViewWindow, rows: number) => drawn(view, (surface) => drawHatch(surface, rows, 'rule'));

  it('lies over the rows that are short, at the foot', () => {
    const [{ points }] = hatch(wholeSpan(30), 19);
    expect(Math.max(...points.map(([x]) => x))).toBeLessThanOrEqual((19 / 30) * WIDTH + 20);
    expect(Math.min(...points.map(([, y]) => y))).toBeGreaterThan(HEIGHT - 20);
  });

  it('is not there where one has moved past it, or nothing is short', () => {
    expect(hatch({ first: 20, count: 10 }, 19)).toEqual([]);
    expect(hatch(wholeSpan(30), 0)).toEqual([]);
  });
});

describe('flagged records', () => {
  it('have a ring at their bar; those beyond the scale at its edge, those out of view none', () => {
    const rings = (view: Parameters<typeof drawn>[0]) =>
      drawn(view, (surface) => drawFlags(surface, 3, column(1, 2), column(40, 500), 'red'))[0].points;
    expect(rings(wholeSpan(3))).toEqual([
      [150, 60],
      [250, 5],
    ]);
    expect(rings({ ...wholeSpan(3), count: 2 })).toEqual([[225, 60]]);
  });

  it('that lie on one another have one ring', () => {
    const [{ points }] = drawn(wholeSpan(3), (surface) =>
      drawFlags(surface, 3, column(1, 1, 1, 2), column(40, 40, 90, 40), 'red'),
    );
    expect(points).toHaveLength(3);
  });
});

describe('a document of lines', () => {
  it('has the same paths, with their colours, widths and dashes', () => {
    const pen = new SvgPen();
    const values = column(10, 20, NaN, 30, 40);
    const y = (value: number) => HEIGHT - value;
    const surface: Surface = { pen, view: wholeSpan(5), y, widthPx: WIDTH, heightPx: HEIGHT };
    drawLine(surface, values, style);
    drawColumns(surface, column(10), { colour: 'blue', strength: 0.5 });
    drawLine(surface, column(NaN), style);
    expect(pen.elements).toEqual([
      '<path d="M30,90L90,80M210,70L270,60" fill="none" stroke="green" stroke-width="1.5" stroke-linejoin="round" stroke-dasharray="4 2"/>',
      '<path d="M23,90h15v10h-15Z" fill="blue" opacity="0.500"/>',
    ]);
  });
});
