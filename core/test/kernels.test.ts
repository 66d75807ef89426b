import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { catalogue, evaluate, makeCalendar, type Frame } from '@jaunty-ledger/core';
import { runs } from './simulations.js';

/* Every aggregate against its definition, worked out from the window's values in the plainest way. */

const sum = (v: number[]) => v.reduce((a, b) => a + b, 0);
const mean = (v: number[]) => sum(v) / v.length;
const sorted = (v: number[]) => [...v].sort((a, b) => a - b);
const central = (v: number[], power: number) => sum(v.map((x) => (x - mean(v)) ** power));
const deviation = (v: number[]) => Math.sqrt(central(v, 2) / (v.length - 1));
const quantile = (v: number[], p: number) => {
  const [low, part] = [Math.floor(p * (v.length - 1)), (p * (v.length - 1)) % 1];
  return part === 0 ? sorted(v)[low] : sorted(v)[low] * (1 - part) + sorted(v)[low + 1] * part;
};
/** Slope and value at the last row, of points that count back from it. */
const line = (v: number[], at: number[]) => {
  const [meanX, meanY] = [mean(at), mean(v)];
  const slope = sum(at.map((p, i) => (p - meanX) * (v[i] - meanY))) / sum(at.map((p) => (p - meanX) ** 2));
  return { slope, fit: meanY - slope * meanX };
};

/** What an aggregate is over the valid values `v`, their positions `at` (the last row is 0), and the row's own value. */
type Plain = (v: number[], at: number[], own: number, length: number) => number;
const PLAIN: Record<string, [least: number, of: Plain]> = {
  sum: [1, sum],
  mean: [1, mean],
  min: [1, (v) => Math.min(...v)],
  max: [1, (v) => Math.max(...v)],
  first: [1, ([x]) => x],
  last: [1, (v) => v[v.length - 1]],
  median: [1, (v) => quantile(v, 0.5)],
  stdev: [2, deviation],
  variance: [2, (v) => deviation(v) ** 2],
  zscore: [2, (v, _, own) => (deviation(v) > 0 ? (own - mean(v)) / deviation(v) : NaN)],
  rank: [
    2,
    (v, _, own) => (v.filter((x) => x < own).length + 0.5 * (v.filter((x) => x === own).length - 1)) / (v.length - 1),
  ],
  wma: [1, (v, at, _, n) => sum(v.map((x, i) => x * (n + at[i]))) / sum(at.map((p) => n + p))],
  slope: [2, (v, at) => line(v, at).slope],
  fit: [2, (v, at) => line(v, at).fit],
  skewness: [
    3,
    (v) => {
      const factor = v.length / ((v.length - 1) * (v.length - 2));
      return deviation(v) > 0 ? (factor * central(v, 3)) / deviation(v) ** 3 : NaN;
    },
  ],
};

/** Small whole numbers with gaps: ties, steps and constant stretches all come up, and plain arithmetic is exact enough. */
const cell = fc.oneof(
  { weight: 9, arbitrary: fc.integer({ min: -20, max: 20 }) },
  { arbitrary: fc.constant(NaN), weight: 1 },
);
const gappy = fc.array(cell, { minLength: 1, maxLength: 90 });
const whole = fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 1, maxLength: 90 });
/** A column and a length of window; the long ones are summed in several runs and blocks. */
const windowed = fc.oneof(
  // a column that begins late, as returns do
  {
    weight: 1,
    arbitrary: fc.tuple(
      fc.tuple(fc.integer({ min: 1, max: 12 }), whole).map(([late, x]) => [...Array<number>(late).fill(NaN), ...x]),
      fc.integer({ min: 1, max: 30 }),
    ),
  },
  { weight: 4, arbitrary: fc.tuple(fc.oneof(gappy, whole), fc.integer({ min: 1, max: 30 })) },
  {
    weight: 1,
    arbitrary: fc.tuple(
      fc.array(fc.integer({ min: -20, max: 20 }), { minLength: 150, maxLength: 450 }),
      fc.integer({ min: 60, max: 200 }),
    ),
  },
);
const frameOf = (x: number[]): Frame => ({
  time: Float64Array.from(x, (_, row) => row * 600e6),
  columns: { x: Float64Array.from(x) },
  calendar: makeCalendar({ zone: 'UTC' }),
});

describe.each(Object.entries(PLAIN))('%s', (name, [needed, plain]) => {
  it('is what its definition says, with gaps and without, over any length', () =>
    fc.assert(
      fc.property(windowed, fc.boolean(), ([x, bars], fromFew) => {
        const least = Math.max(needed, fromFew ? 1 : bars);
        const option = fromFew ? ', from: 1' : '';
        const [{ values }] = evaluate([`${name}(x, ${bars} bars${option})`], frameOf(x));
        values.forEach((value, t) => {
          const rows = x.map((_, row) => row).filter((row) => row > t - bars && row <= t && !Number.isNaN(x[row]));
          const v = rows.map((row) => x[row]);
          const at = rows.map((row) => row - t);
          const isMissing = v.length < least || (name === 'rank' && Number.isNaN(x[t]));
          const wanted = isMissing ? NaN : plain(v, at, x[t], bars);
          if (Number.isNaN(wanted)) return expect(value, `row ${t}`).toBeNaN();
          expect(Math.abs(value - wanted), `row ${t}: ${value}, ${wanted}`).toBeLessThan(1e-9 * (1 + Math.abs(wanted)));
        });
      }),
      { numRuns: runs(60) },
    ));
});

/** All functions with a window of bars that need no more than two values. */
const WINDOWED = [...catalogue.values()].filter(
  ({ name, definition }) =>
    definition.startsWith('4.') && name !== 'window' && name !== 'skewness' && name !== 'kurtosis',
);

describe.each(WINDOWED.map((entry) => [entry.name, entry] as const))('%s', (name, { parameters }) => {
  const given = parameters.filter(({ kind }) => kind === 'column').length === 2 ? 'x, y' : 'x';
  const take = (x: number[], window: string) => {
    const frame = frameOf(x);
    frame.columns.y = frame.columns.x.map((value, row) => value * 2 + (row % 7));
    return evaluate([`${name}(${given}, ${window})`], frame)[0].values;
  };

  it('does not see what comes later', () =>
    fc.assert(
      fc.property(gappy, fc.integer({ min: 2, max: 20 }), fc.nat(), (x, bars, cut) => {
        const part = x.slice(0, 1 + (cut % x.length));
        const whole = take(x, `${bars} bars, from: 2`);
        // a gap that comes later takes the general way, whose sums round otherwise in the last place
        take(part, `${bars} bars, from: 2`).forEach((value, t) =>
          Number.isNaN(value) ? expect(whole[t], `row ${t}`).toBeNaN() : expect(whole[t]).toBeCloseTo(value, 11),
        );
      }),
      { numRuns: 30 },
    ));

  it('moved back by `skip` is what it was so many rows before', () =>
    fc.assert(
      fc.property(gappy, fc.integer({ min: 2, max: 20 }), fc.integer({ min: 1, max: 5 }), (x, bars, skip) => {
        if (name === 'zscore' || name === 'rank') return; // these hold the row's own value against the window
        const moved = take(x, `${bars} bars, from: 2, skip: ${skip}`);
        const plain = take(x, `${bars} bars, from: 2`);
        const empty = name === 'count' ? 0 : NaN;
        moved.forEach((value, t) => {
          const wanted = t < skip ? (name === 'count' ? NaN : empty) : plain[t - skip];
          if (Number.isNaN(wanted)) expect(value).toBeNaN();
          else expect(value).toBeCloseTo(wanted, 9);
        });
      }),
      { numRuns: 30 },
    ));
});
