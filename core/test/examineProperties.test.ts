import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changingVariance } from '../src/examine/changingVariance.js';
import { crossCorrelation } from '../src/examine/crossCorrelation.js';
import { cycles } from '../src/examine/cycles.js';
import { groupSummaries } from '../src/examine/groups.js';
import { calendarGroups, PROFILES } from '../src/examine/profile.js';
import { seasonalShape } from '../src/examine/seasonalShape.js';
import { stationarity } from '../src/examine/stationarity.js';
import { normalPlot, summary } from '../src/examine/summary.js';
import { unitRoot } from '../src/examine/unitRoot.js';
import { filledOf, lessLine } from '../src/examine/straightLines.js';
import { varianceRatio } from '../src/examine/varianceRatio.js';
import { examine } from '../src/examine/examination.js';
import { hurstViews } from '../src/examine/hurstViews.js';
import { shuffled } from '../src/examine/shuffled.js';
import { turningPoints } from '../src/examine/turningPoints.js';
import { evaluate } from '../src/formula/evaluate.js';
import { normalQuantile } from '../src/numeric/tails.js';
import { HURST_METHODS, hurstOfPoints, hurstPoints, hurstSpreadOf, rollingHurst } from '../src/memory/hurst.js';
import { laggedProducts } from '../src/numeric/laggedProducts.js';
import { makeCalendar } from '../src/time/calendar.js';

/* What holds of every column, whatever its values. */

/** Values with gaps, most of them different. */
const values = (minLength: number, maxLength = 120) =>
  fc.array(
    fc.oneof(
      { weight: 9, arbitrary: fc.integer({ min: -1000, max: 1000 }) },
      { weight: 1, arbitrary: fc.constant(NaN) },
    ),
    { minLength, maxLength },
  );
const column = (minLength: number, maxLength?: number) =>
  values(minLength, maxLength).map((list) => Float64Array.from(list, (value) => value / 7));

/** Two figures are the same, or missing both. */
const expectClose = (got: number, want: number, digits = 7) => {
  if (Number.isNaN(want)) expect(got).toBeNaN();
  else expect((got - want) / Math.max(1, Math.abs(want))).toBeCloseTo(0, digits);
};

describe('tests', () => {
  const moved = (x: Float64Array, by: number, times: number) => x.map((value) => by + times * value);

  it('take no notice of where a column lies, and in which unit it is', () =>
    fc.assert(
      fc.property(column(30), fc.integer({ min: -500, max: 500 }), fc.integer({ min: 1, max: 50 }), (x, by, times) => {
        const other = moved(x, by, times);
        for (const terms of ['constant', 'trend'] as const) {
          expectClose(unitRoot(other, terms, 1).tau, unitRoot(x, terms, 1).tau, 5);
          expectClose(stationarity(other, terms, 3).statistic, stationarity(x, terms, 3).statistic, 6);
        }
        expectClose(varianceRatio(other, 3).ratio, varianceRatio(x, 3).ratio);
        expectClose(varianceRatio(other, 3).robustZ, varianceRatio(x, 3).robustZ, 6);
        expectClose(changingVariance(other, 2).statistic, changingVariance(x, 2).statistic, 5);
        const [a, b] = [summary(other), summary(x)];
        for (const name of ['skewness', 'kurtosis'] as const) expectClose(a[name], b[name], 6);
        expectClose(a.jarqueBera.p, b.jarqueBera.p, 6);
      }),
      { numRuns: 60 },
    ));

  it('give chances between 0 and 1, and count what is there and what is missing', () =>
    fc.assert(
      fc.property(column(0), fc.integer({ min: 1, max: 6 }), (x, q) => {
        const chances = [
          unitRoot(x).p,
          stationarity(x).p,
          varianceRatio(x, q + 1).p,
          varianceRatio(x, q + 1).robustP,
          changingVariance(x, q).p,
          summary(x).jarqueBera.p,
          ...cycles(x).peaks.map(({ p }) => p),
        ];
        for (const p of chances) if (!Number.isNaN(p)) expect(p >= 0 && p <= 1, String(p)).toBe(true);
        for (const { count, missing } of [
          unitRoot(x),
          stationarity(x),
          varianceRatio(x, q + 1),
          changingVariance(x, q),
        ])
          expect(count + missing).toBe(x.length);
      }),
      { numRuns: 120 },
    ));

  it('leave missing values out first', () =>
    fc.assert(
      fc.property(column(30), (x) => {
        const there = x.filter((value) => !Number.isNaN(value));
        expectClose(unitRoot(x).tau, unitRoot(there).tau);
        expectClose(stationarity(x).statistic, stationarity(there).statistic);
        expectClose(varianceRatio(x, 4).z, varianceRatio(there, 4).z);
        expectClose(changingVariance(x, 3).p, changingVariance(there, 3).p);
      }),
      { numRuns: 60 },
    ));
});

describe('a summary', () => {
  it('says what functions over all rows say in the last of them', () =>
    fc.assert(
      fc.property(column(8), (x) => {
        const found = summary(x);
        const frame = { time: x.map((_, row) => row), columns: { x } };
        const lastOf = (formula: string) => evaluate([`y = ${formula}`], frame)[0].values.at(-1)!;
        const distinct = new Set(x.filter((value) => !Number.isNaN(value))).size;
        fc.pre(distinct > 1 && found.count > 3);
        expectClose(found.mean, lastOf('mean(x, all)'));
        expectClose(found.stdev, lastOf('stdev(x, all)'));
        expectClose(found.skewness, lastOf('skewness(x, all)'), 6);
        expectClose(found.kurtosis, lastOf('kurtosis(x, all)'), 6);
        expectClose(found.min, lastOf('min(x, all)'));
        expectClose(found.quartiles[0], lastOf('quantile(x, all, p: 0.25)'));
        expectClose(found.quartiles[1], lastOf('median(x, all)'));
      }),
      { numRuns: 60 },
    ));

  it('has every value in one bin of its histogram, and in its place of the normal plot', () =>
    fc.assert(
      fc.property(column(1), (x) => {
        const { count, histogram, min, max } = summary(x);
        const { edges, counts } = histogram;
        expect(counts.reduce((sum, one) => sum + one, 0)).toBe(count);
        if (count === 0) return;
        expect([edges[0], edges.at(-1)]).toEqual([min, max]);
        expect(counts.length).toBeLessThanOrEqual(200);
        const { quantiles, values: sorted } = normalPlot(x);
        expect(sorted.length).toBe(count);
        for (let at = 1; at < count; at++) {
          expect(sorted[at]).toBeGreaterThanOrEqual(sorted[at - 1]);
          expect(quantiles[at]).toBeGreaterThan(quantiles[at - 1]);
        }
      }),
    ));
});

describe('parts of a column', () => {
  it('come to the column again, wherever there is a trend', () =>
    fc.assert(
      fc.property(column(6), fc.integer({ min: 2, max: 9 }), (x, s) => {
        const { shape, trend, remainder, strength, count } = seasonalShape(x, s);
        const { values: filled, first } = filledOf(x);
        trend.forEach((drift, row) => {
          if (Number.isNaN(drift)) expect(remainder[row]).toBeNaN();
          else expectClose(drift + shape[row % s] + remainder[row], filled[row - first]);
        });
        if (count >= 2 * s)
          expectClose(
            shape.reduce((sum, one) => sum + one, 0),
            0,
          );
        for (const share of Object.values(strength))
          if (!Number.isNaN(share)) expect(share >= 0 && share <= 1).toBe(true);
      }),
    ));

  it('by the calendar hold each row once', () =>
    fc.assert(
      fc.property(column(1), fc.constantFrom(...PROFILES), fc.integer({ min: 1, max: 90 }), (x, by, minutes) => {
        const time = x.map((_, row) => 1_770_021_000e6 + row * minutes * 60e6);
        const calendar = makeCalendar({ zone: 'Atlantic/Faroe' });
        const groups = groupSummaries(x, calendarGroups(time, calendar, by, 3600e6));
        const there = x.filter((value) => !Number.isNaN(value));
        expect(groups.reduce((sum, { count }) => sum + count, 0)).toBe(there.length);
        const total = groups.reduce((sum, { count, mean }) => sum + (count > 0 ? count * mean : 0), 0);
        expectClose(
          total,
          there.reduce((sum, value) => sum + value, 0),
        );
        expect(groups.map(({ group }) => group)).toEqual(groups.map(({ group }) => group).sort((a, b) => a - b));
        for (const { min, quartiles, max, count } of groups) {
          const inOrder = [min, ...quartiles, max];
          if (count > 0) expect(inOrder).toEqual([...inOrder].sort((a, b) => a - b));
        }
        const sumOf = (what: 'missing' | 'zeros') => groups.reduce((sum, group) => sum + group[what], 0);
        expect(sumOf('missing')).toBe(x.length - there.length);
        expect(sumOf('zeros')).toBe(there.filter((value) => value === 0).length);
      }),
    ));

  it('as swings hold all of its squares about its line (Parseval)', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -99, max: 99 }), { minLength: 3, maxLength: 101 }), (list) => {
        fc.pre(list.length % 2 === 1); // an even number has a last frequency that is not told
        const x = Float64Array.from(list);
        const rest = lessLine(x);
        const squares = rest.reduce((sum, value) => sum + value * value, 0);
        const { power, peaks } = cycles(x);
        fc.pre(peaks.length > 0);
        expectClose(2 * power.reduce((sum, one) => sum + one, 0), squares, 6);
        for (const [at, peak] of peaks.entries()) {
          expect(peak.period * peak.j).toBeCloseTo(x.length, 9);
          if (at > 0) expect(peak.power).toBeLessThanOrEqual(peaks[at - 1].power);
        }
      }),
    ));
});

describe('lead and lag', () => {
  it('turn round with the columns, and are 1 of a column with itself', () =>
    fc.assert(
      fc.property(column(12), fc.integer({ min: 0, max: 4 }), (x, most) => {
        const y = x.map((value, row) => value * ((row % 3) - 1) + row);
        fc.pre(x.filter((value) => !Number.isNaN(value)).length > most + 1);
        const there = crossCorrelation(x, y, most);
        const back = crossCorrelation(y, x, most);
        there.values.forEach((value, at) => expectClose(value, back.values[2 * most - at]));
        const own = crossCorrelation(x, x, most).values[most];
        if (!Number.isNaN(own)) expect(own).toBeCloseTo(1, 12);
        for (const value of there.values)
          if (!Number.isNaN(value)) expect(Math.abs(value)).toBeLessThanOrEqual(1 + 1e-9);
      }),
    ));

  it('find by how many rows one column follows the other', () =>
    fc.assert(
      fc.property(fc.integer({ min: -5, max: 5 }), fc.integer({ min: 1, max: 1e6 }), (by, seed) => {
        const steps = Float64Array.from({ length: 200 }, (_, t) => ((t * 7919 + seed) % 101) - 50);
        const x = steps.subarray(10, 190);
        const y = steps.slice(10 - by, 190 - by);
        const { values: found } = crossCorrelation(x, y, 6);
        expect(found.indexOf(Math.max(...found)) - 6).toBe(by);
      }),
    ));
});

describe('sums of products', () => {
  it('of columns that lag are the same by transforms as one by one', () =>
    fc.assert(
      fc.property(fc.integer({ min: 12_000, max: 30_000 }), fc.integer({ min: 350, max: 1500 }), (rows, lags) => {
        const [a, b] = [3, 7].map((turn) =>
          Float64Array.from({ length: rows }, (_, t) => Math.sin(t * turn) + (t % turn)),
        );
        const found = laggedProducts(a, b, lags);
        expect(found.length).toBe(lags + 1);
        for (const k of [0, 1, lags >> 1, lags]) {
          const sum = a.subarray(0, rows - k).reduce((total, value, t) => total + value * b[t + k], 0);
          expectClose(found[k], sum, 11);
        }
      }),
      { numRuns: 12 },
    ));
});

describe('turning points', () => {
  it('take turns, and are what no neighbour is beyond', () =>
    fc.assert(
      fc.property(column(1, 200), fc.integer({ min: 1, max: 12 }), (x, rows) => {
        const { tops, bottoms } = turningPoints(x, rows);
        const near = (row: number) => x.subarray(row - rows, row + rows + 1).filter((value) => !Number.isNaN(value));
        for (const row of tops) expect(Math.max(...near(row))).toBe(x[row]);
        for (const row of bottoms) expect(Math.min(...near(row))).toBe(x[row]);
        const all = [...tops.map((row) => [row, 1]), ...bottoms.map((row) => [row, -1])].sort(([a], [b]) => a - b);
        for (let at = 1; at < all.length; at++) expect(all[at][1]).toBe(-all[at - 1][1]);
        for (const [row] of all) expect(row >= rows && row < x.length - rows).toBe(true);
        const upsideDown = turningPoints(
          x.map((value) => -value),
          rows,
        );
        expect(upsideDown).toEqual({ tops: bottoms, bottoms: tops });
      }),
      { numRuns: 300 },
    ));

  it('of a swing are as far apart as it is long', () => {
    const x = Float64Array.from({ length: 500 }, (_, t) => 0.01 * t + Math.sin((2 * Math.PI * t) / 25));
    const { turns } = examine(x, { treatments: [], lags: 10, shuffles: 0 });
    expect(turns.rows).toBe(8);
    for (const apart of [...turns.topsApart, ...turns.bottomsApart]) expect(apart).toBe(25);
    expect(turns.tops.length).toBe(19);
  });
});

describe('exponents', () => {
  it('are the slopes of the pictures that they come with, and lie among copies of what forgets', () => {
    const x = shuffled(
      Float64Array.from({ length: 800 }, (_, i) => (i % 41) - 20),
      5,
    );
    const views = hurstViews(x, 60, 1, () => undefined);
    expect(views.map(({ by }) => by)).toEqual(['rs', 'dfa', 'variance']);
    for (const { by, h, logSpreads, copies } of views) {
      const { hurst } = rollingHurst(x, x.length, by);
      expectClose(h, hurst[x.length - 1]);
      expect(h > copies.low && h < copies.high).toBe(true);
      logSpreads.forEach((spread, at) => {
        expect(copies.lowSpreads[at]).toBeLessThan(copies.highSpreads[at] + 1e-9);
        expect(Math.abs(spread - (copies.lowSpreads[at] + copies.highSpreads[at]) / 2)).toBeLessThan(0.5);
      });
    }
    expect(hurstViews(x.subarray(0, 63), 3, 1, () => undefined)).toEqual([]);
  });

  it.each(HURST_METHODS)('by %s spread as the table says, between its windows too', (by) => {
    const bars = 180;
    const paths = 400;
    const estimates = Float64Array.from({ length: paths }, (_, seed) => {
      const noise = shuffled(
        Float64Array.from({ length: bars }, (_, i) => normalQuantile((i + 0.5) / bars)),
        seed,
      );
      return hurstOfPoints(hurstPoints(noise, by), by, bars).h;
    });
    const { stdev } = summary(estimates);
    expect(stdev / hurstSpreadOf(by, bars)(0.5)).toBeGreaterThan(0.85);
    expect(stdev / hurstSpreadOf(by, bars)(0.5)).toBeLessThan(1.15);
    // longer windows tell it more exactly, beyond the table as within
    for (const [short, long] of [
      [64, 100],
      [5000, 9000],
      [9000, 100_000],
    ])
      expect(hurstSpreadOf(by, long)(0.6)).toBeLessThan(hurstSpreadOf(by, short)(0.6));
    expect(hurstSpreadOf(by, 256)(NaN)).toBeNaN();
  });
});
