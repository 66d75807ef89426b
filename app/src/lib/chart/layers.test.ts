import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { drawCandles } from './barLayer';
import { drawColumns } from './columnLayer';
import { drawFlags } from './flagLayer';
import { drawHatch } from './hatchLayer';
import type { Inks } from './inks';
import type { Surface } from './layers';
import { drawArea, drawDots, drawLine, type LineStyle } from './lineLayer';
import { summarised } from './summary';
import { trueTimeOf, wholeSpan, type ViewWindow } from './viewWindow';

/* What the layers put on a canvas, as a list of strokes: drawn on a context that writes down what it is told. */

interface Mark {
  act: 'stroke' | 'fill' | 'rect';
  colour: string;
  points: [number, number][];
  dash: number[];
}

/** A path as a browser has it, for where there is no browser. */
class Path {
  points: [number, number][] = [];
  moveTo = (x: number, y: number) => void this.points.push([x, y]);
  lineTo = (x: number, y: number) => void this.points.push([x, y]);
  rect = (x: number, y: number, width: number, height: number) =>
    void this.points.push([x, y], [x + width, y + height]);
  arc = (x: number, y: number) => void this.points.push([x, y]);
  closePath = () => undefined;
}
globalThis.Path2D = Path as unknown as typeof Path2D;

class Recorder extends Path {
  marks: Mark[] = [];
  strokeStyle = '';
  fillStyle = '';
  lineWidth = 1;
  lineJoin = '';
  globalAlpha = 1;
  private dash: number[] = [];
  private readonly saved: [string, string, number[]][] = [];
  beginPath = () => void (this.points = []);
  clip = () => undefined;
  setLineDash = (dash: number[]) => void (this.dash = dash);
  save = () => void this.saved.push([this.strokeStyle, this.fillStyle, this.dash]);
  restore = () => void ([this.strokeStyle, this.fillStyle, this.dash] = this.saved.pop()!);
  stroke = (path: Path = this) => this.note('stroke', this.strokeStyle, path);
  fill = (path: Path = this) => this.note('fill', this.fillStyle, path);
  fillRect = (x: number, y: number, width: number, height: number) =>
    void this.marks.push({
      act: 'rect',
      colour: this.fillStyle,
      points: [
        [x, y],
        [x + width, y + height],
      ],
      dash: [],
    });
  private note(act: Mark['act'], colour: string, { points }: Path): void {
    if (points.length > 0) this.marks.push({ act, colour, points: [...points], dash: [...this.dash] });
  }
}

const WIDTH = 300;
const HEIGHT = 100;

function drawn(view: ViewWindow, draw: (surface: Surface) => void, low = 0, high = 100): Mark[] {
  const context = new Recorder();
  const y = (value: number) => HEIGHT * (1 - (value - low) / (high - low));
  draw({ context: context as unknown as CanvasRenderingContext2D, view, y, widthPx: WIDTH, heightPx: HEIGHT });
  return context.marks;
}

const inks = { rising: 'blue', falling: 'rust' } as Inks;
const style: LineStyle = { colour: 'green', widthPx: 1.5, dash: [4, 2], strength: 1 };
const column = (...values: number[]) => Float64Array.from(values);
const candles = (rows: [open: number, high: number, low: number, close: number][]) => {
  const [open, high, low, close] = [0, 1, 2, 3].map((field) => Float64Array.from(rows, (row) => row[field]));
  return { open, high, low, close, summary: summarised(low, high) };
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
    const [{ points, dash }] = drawn(wholeSpan(3), (surface) => drawLine(surface, values, summarised(values), style));
    expect(points).toEqual([
      [50, 90],
      [150, 80],
      [250, 70],
    ]);
    expect(dash).toEqual([4, 2]);
  });

  it('as a stair keeps each value until the next', () => {
    const values = column(10, 20);
    const [{ points }] = drawn(wholeSpan(2), (surface) =>
      drawLine(surface, values, summarised(values), { ...style, steps: true }),
    );
    expect(points).toEqual([
      [75, 90],
      [225, 90],
      [225, 80],
    ]);
  });

  it('never goes where there is no value, however many rows share a pixel', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: 0, max: 100 }), fc.constant(NaN)), { minLength: 1, maxLength: 1500 }),
        fc.constantFrom('line', 'dots', 'area', 'columns'),
        (values, shape) => {
          const x = Float64Array.from(values);
          const marks = drawn(wholeSpan(x.length), (surface) => {
            if (shape === 'line') drawLine(surface, x, summarised(x), style);
            if (shape === 'dots') drawDots(surface, x, summarised(x), style);
            if (shape === 'area') drawArea(surface, x, 0, 'green', 1);
            if (shape === 'columns') drawColumns(surface, x, summarised(x), 'green');
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
    const bars = drawn(wholeSpan(values.length), (surface) => drawLine(surface, values, summarised(values), style));
    expect(Math.min(...bars.map(({ points: [[, top]] }) => top))).toBeCloseTo(1);
    expect(bars.length).toBeLessThanOrEqual(WIDTH);
  });

  it('goes straight over a night in true time, as the wash below it does', () => {
    const times = Float64Array.from({ length: 2000 }, (_, row) => (row + (row < 1000 ? 0 : 2000)) * 60e6);
    const x = times.map((_, row) => (row < 1000 ? 40 : 60));
    const view = wholeSpan(x.length, trueTimeOf(times, x.length));
    const marks = drawn(view, (surface) => {
      drawLine(surface, x, summarised(x), style);
      drawArea(surface, x, 0, 'green', 1);
    });
    const [night, wash] = [marks.find(({ act }) => act === 'stroke')!, marks.find(({ act }) => act === 'fill')!];
    for (const { points } of [night, wash]) {
      expect(points[1][0] - points[0][0]).toBeGreaterThan(WIDTH / 3);
      expect([points[0][1], points[1][1]]).toEqual([60, 40]);
    }
    expect(marks.filter(({ act }) => act !== 'rect')).toHaveLength(2);
  });

  it('is not broken where rows share a pixel, however it turns', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 100 }), { minLength: WIDTH + 1, maxLength: 3000 }), (values) => {
        const x = Float64Array.from(values);
        const bars = drawn(wholeSpan(x.length), (surface) => drawLine(surface, x, summarised(x), style));
        bars.forEach(({ points: [[left, top], [right, bottom]] }, k) => {
          expect(right - left).toBe(1);
          if (k === 0) return;
          const [[, topBefore], [rightBefore, bottomBefore]] = bars[k - 1].points;
          expect(left).toBe(rightBefore);
          expect(top).toBeLessThanOrEqual(bottomBefore + 1e-9);
          expect(bottom).toBeGreaterThanOrEqual(topBefore - 1e-9);
        });
      }),
      { numRuns: 40 },
    ));
});

describe('columns', () => {
  it('stand on zero, up or down', () => {
    const values = column(20, -10, 0);
    const marks = drawn(wholeSpan(3), (surface) => drawColumns(surface, values, summarised(values), 'green'), -50, 50);
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
    const bars = column(0, 10, 20);
    const marks = drawn(wholeSpan(3), (surface) =>
      drawFlags(surface, bars, column(12, 25, -5), column(40, 500, 40), 'red'),
    );
    expect(marks.map(({ points }) => points[0])).toEqual([
      [150, 60],
      [250, 5],
    ]);
  });
});
