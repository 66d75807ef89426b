import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eachPixelColumn } from './layers';
import {
  clamped,
  placeOfRow,
  pxPerRow,
  rowAtX,
  rowsAboutView,
  rowsInView,
  trueTimeOf,
  wholeSpan,
  xOfRow,
  zoomed,
  type ViewWindow,
} from './viewWindow';

/* One axis, two ways: bars side by side, or in true time with the nights between them. */

const HOUR = 3600e6;
/** Bars of an hour, eight a day. */
const hourly = (days: number) =>
  Float64Array.from({ length: days * 8 }, (_, row) => Math.floor(row / 8) * 24 * HOUR + (row % 8) * HOUR);
const ROWS = 80;
const trueTime = trueTimeOf(hourly(10), ROWS);
const WIDTH = 600;

const axes = [
  ['side by side', undefined],
  ['in true time', trueTime],
] as const;

describe.each(axes)('bars %s', (_, axis) => {
  const view = (first: number, count: number): ViewWindow => clamped({ first, count, trueTime: axis }, ROWS);
  const views = fc
    .tuple(fc.double({ min: 0, max: ROWS, noNaN: true }), fc.double({ min: 1, max: ROWS, noNaN: true }))
    .map(([first, count]) => view(first, count));

  it('take the whole width together', () => {
    const whole = wholeSpan(ROWS, axis);
    expect(rowsInView(whole, ROWS)).toEqual([0, ROWS]);
    expect(xOfRow(whole, 0, WIDTH)).toBeLessThan(WIDTH / ROWS);
    expect(xOfRow(whole, ROWS - 1, WIDTH)).toBeGreaterThan(WIDTH - (2 * WIDTH) / ROWS);
  });

  it('are found again where they are drawn', () =>
    fc.assert(
      fc.property(views, fc.integer({ min: 0, max: ROWS - 1 }), (shown, row) => {
        expect(rowAtX(shown, xOfRow(shown, row, WIDTH), WIDTH)).toBe(row);
      }),
    ));

  it('that are in view are those whose place is', () =>
    fc.assert(
      fc.property(views, (shown) => {
        const [from, to] = rowsInView(shown, ROWS);
        for (let row = 0; row < ROWS; row++) {
          const x = xOfRow(shown, row, WIDTH);
          if (x > 0 && x < WIDTH) expect(row >= from && row < to).toBe(true);
          if (row >= from && row < to)
            expect(x > -pxPerRow(shown, WIDTH) && x < WIDTH + pxPerRow(shown, WIDTH)).toBe(true);
        }
        const [about, beyond] = rowsAboutView(shown, ROWS);
        expect([about <= from, beyond >= to]).toEqual([true, true]);
      }),
    ));

  it('fall into pixel columns, each once and in order', () =>
    fc.assert(
      fc.property(views, (shown) => {
        const seen: number[] = [];
        eachPixelColumn({ view: shown, widthPx: 40 }, 1, ROWS, (_x, from, to) => {
          for (let row = from; row < to; row++) seen.push(row);
        });
        expect(seen).toEqual([...seen].sort((a, b) => a - b));
        expect(new Set(seen).size).toBe(seen.length);
      }),
    ));

  it('keep the place under the pointer while one zooms', () =>
    fc.assert(
      fc.property(
        views,
        fc.double({ min: 0.5, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (shown, factor, about) => {
          const closer = zoomed(shown, factor, about, ROWS);
          const place = (one: ViewWindow) => one.first + about * one.count;
          expect(place(closer)).toBeCloseTo(place(shown), 6);
          expect(closer.trueTime).toBe(axis);
        },
      ),
    ));

  it('drawn later by some rows stand where those rows stand', () => {
    const shown = view(10, 30);
    const moved = { ...shown, shift: 5 };
    const [from, to] = rowsInView(shown, ROWS);
    expect(rowsInView(moved, ROWS)).toEqual([from - 5, to - 5]);
    for (let row = 0; row < ROWS - 5; row++)
      expect(xOfRow(moved, row, WIDTH)).toBeCloseTo(xOfRow(shown, row + 5, WIDTH), 6);
  });
});

describe('true time', () => {
  it('gives a night the room of its hours', () => {
    const step = (row: number) => trueTime.places[row + 1] - trueTime.places[row];
    expect(step(7) / step(0)).toBeCloseTo(17);
    expect(trueTime.spacing).toBeCloseTo(step(0));
  });

  it('has as many places as bars, so that zooming and panning go by the same measure', () => {
    expect([trueTime.places[0], trueTime.places[ROWS - 1]]).toEqual([0, ROWS - 1]);
    expect(placeOfRow({ first: 0, count: 1, trueTime }, ROWS)).toBeCloseTo(ROWS - 1 + trueTime.spacing);
  });

  it('shows at a place in the night the bar before it', () => {
    const whole = wholeSpan(ROWS, trueTime);
    const night = (xOfRow(whole, 7, WIDTH) + xOfRow(whole, 8, WIDTH)) / 2;
    expect(rowAtX(whole, night, WIDTH)).toBe(7);
  });

  it('of one bar or of bars at one time is no division by nothing', () => {
    expect(trueTimeOf(Float64Array.of(5), 1)).toEqual({ places: Float64Array.of(0), spacing: 1 });
  });
});
