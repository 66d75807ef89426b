import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curvatureErrors, minimise } from '../src/numeric/minimise.js';
import { studentBeyond } from '../src/numeric/tails.js';
import { filtered } from '../src/project/arima/filter.js';
import {
  differenced,
  differencing,
  fromPartials,
  ofLags,
  partialsOf,
  product,
  shockWeights,
} from '../src/project/arima/polynomials.js';

/* What estimation is built of. */

describe('the least value of a function', () => {
  it('that is a bowl is at its bottom, and its curvature says how sure that is', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -5, max: 5 }), fc.integer({ min: 1, max: 40 })), {
          minLength: 1,
          maxLength: 5,
        }),
        (axes) => {
          const of = (x: readonly number[]) =>
            axes.reduce((sum, [bottom, steepness], i) => sum + (steepness * (x[i] - bottom) ** 2) / 2, 7);
          const { x, value } = minimise(
            of,
            axes.map(() => 0),
          );
          axes.forEach(([bottom], i) => expect(x[i]).toBeCloseTo(bottom, 2));
          expect(value).toBeCloseTo(7, 3);
          const errors = curvatureErrors(
            of,
            axes.map(([bottom]) => bottom),
            axes.map(() => 1e-3),
          );
          axes.forEach(([, steepness], i) => expect(errors[i]).toBeCloseTo(1 / Math.sqrt(steepness), 3));
        },
      ),
      { numRuns: 60 },
    ));

  it('that bends (Rosenbrock 1960) is found round the bend', () => {
    const of = ([a, b]: readonly number[]) => (1 - a) ** 2 + 100 * (b - a * a) ** 2;
    const { x } = minimise(of, [-1.2, 1]);
    expect(x[0]).toBeCloseTo(1, 3);
    expect(x[1]).toBeCloseTo(1, 3);
  });

  it('is not looked for where there is none, and a saddle has no errors', () => {
    expect(minimise(() => NaN, [1]).value).toBeNaN();
    expect(minimise(() => 3, [])).toEqual({ x: [], value: 3 });
    expect(curvatureErrors(([a, b]) => a * a - b * b, [0, 0], [1e-3, 1e-3])).toEqual([NaN, NaN]);
  });
});

it('chances of a t variable are those of the tables', () => {
  for (const [t, degrees, p] of [
    [12.706, 1, 0.05],
    [2.228, 10, 0.05],
    [2.75, 30, 0.01],
    [0, 5, 1],
  ])
    expect(studentBeyond(t, degrees)).toBeCloseTo(p, 3);
  expect(studentBeyond(-2.228, 10)).toBe(studentBeyond(2.228, 10));
  expect(studentBeyond(NaN, 4)).toBeNaN();
});

describe('polynomials', () => {
  const partials = fc.array(
    fc.integer({ min: -95, max: 95 }).map((one) => one / 100),
    { maxLength: 6 },
  );

  it('come from partial autocorrelations and go back to them', () =>
    fc.assert(
      fc.property(partials, (some) => {
        const back = partialsOf(fromPartials(some))!;
        some.forEach((one, at) => expect(back[at]).toBeCloseTo(one, 6));
      }),
    ));

  it('with a root within the circle are told apart', () => {
    expect(partialsOf([1.01])).toBeUndefined();
    expect(partialsOf([0.7, 0.4])).toBeUndefined();
    expect(partialsOf([1.9, -0.99])).toBeDefined();
    expect(partialsOf([])).toEqual([]);
  });

  it('multiply, and weigh shocks as the series of one over the other', () => {
    expect(product([1, -1], [1, -1])).toEqual([1, -2, 1]);
    expect(ofLags([0.5], -1, 4)).toEqual([1, 0, 0, 0, -0.5]);
    expect(differencing(1, 1, 3)).toEqual([1, -1, 0, -1, 1]);
    expect(Array.from(shockWeights([1, -0.5], [1], 4))).toEqual([1, 0.5, 0.25, 0.125]);
    expect(Array.from(shockWeights([1, -1], [1, -0.4], 3))).toEqual([1, 0.6, 0.6]);
  });

  it('that difference take a line away, and a season', () => {
    const x = Float64Array.from({ length: 24 }, (_, t) => 3 + 2 * t + [5, -1, -4][t % 3]);
    for (const value of differenced(x, differencing(1, 1, 3))) expect(value).toBeCloseTo(0, 9);
    expect(differenced(x, differencing(0, 1, 3)).length).toBe(21);
    expect(differenced(Float64Array.of(1), [1, -1]).length).toBe(0);
  });
});

describe('the filter', () => {
  const series = fc
    .array(fc.integer({ min: -50, max: 50 }), { minLength: 8, maxLength: 40 })
    .map((list) => Float64Array.from(list, (value) => value / 10));
  const coefficient = fc.integer({ min: -9, max: 9 }).map((one) => one / 10);

  it('of values that keep a share of the last one says what one works out by hand', () =>
    fc.assert(
      fc.property(series, coefficient, (w, phi) => {
        const { squares, logs } = filtered(w, [1, -phi], [1], 0);
        const first = w[0] ** 2 * (1 - phi ** 2);
        const rest = w.subarray(1).reduce((sum, value, t) => sum + (value - phi * w[t]) ** 2, 0);
        expect(squares).toBeCloseTo(first + rest, 8);
        expect(logs).toBeCloseTo(-Math.log(1 - phi ** 2), 8);
      }),
    ));

  it('finds the mean of the greatest likelihood on its way', () =>
    fc.assert(
      fc.property(series, coefficient, coefficient, (w, phi, theta) => {
        fc.pre(w.some((value) => value !== w[0]));
        const cost = (u: number | 'search') => {
          const { squares, logs, u: found } = filtered(w, [1, -phi], [1, theta], u);
          return { cost: (w.length / 2) * Math.log(squares) + logs / 2, found };
        };
        const best = cost('search');
        for (const away of [-0.1, 0.1]) expect(cost(best.found + away).cost).toBeGreaterThanOrEqual(best.cost - 1e-9);
        expect(cost(best.found).cost).toBeCloseTo(best.cost, 8);
      }),
      { numRuns: 60 },
    ));

  it('that takes variances as settled early comes close', () => {
    const w = Float64Array.from({ length: 300 }, (_, t) => Math.sin(t) + ((t * 7) % 5));
    const [exact, near] = [undefined, 1e-3].map((settled) => filtered(w, [1, -0.6], [1, 0.4], 0, { settled }));
    expect(near.squares / exact.squares).toBeCloseTo(1, 3);
    expect(near.logs).toBeCloseTo(exact.logs, 2);
  });
});
