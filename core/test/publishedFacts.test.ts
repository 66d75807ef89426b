import { describe, expect, it } from 'vitest';
import { cycles } from '../src/examine/cycles.js';
import { shuffled } from '../src/examine/shuffled.js';
import { stationarity } from '../src/examine/stationarity.js';
import { summary } from '../src/examine/summary.js';
import { judged, unitRoot } from '../src/examine/unitRoot.js';
import { varianceRatio } from '../src/examine/varianceRatio.js';
import { autocorrelation } from '../src/memory/autocorrelation.js';
import { expectedRange } from '../src/memory/hurst.js';
import { normalQuantile } from '../src/numeric/tails.js';

/* What textbooks and tables say, so that a definition read wrongly does not pass for its own reference. */

const ROWS = 20_000;
const noise = shuffled(
  Float64Array.from({ length: ROWS }, (_, at) => normalQuantile((at + 0.5) / ROWS)),
  8,
);
const recursive = (keeps: number) => {
  let last = 0;
  return noise.map((shock) => (last = keeps * last + shock));
};

describe('tables', () => {
  it.each([
    ['none', -2.57, -1.94, -1.62],
    ['constant', -3.43, -2.86, -2.57],
    ['trend', -3.96, -3.41, -3.13],
  ] as const)('of Dickey and Fuller, for very many rows with %s', (terms, one, five, ten) => {
    const { critical } = judged(-3, terms, 1e7);
    expect([critical.one, critical.five, critical.ten].map((value) => Number(value.toFixed(2)))).toEqual([
      one,
      five,
      ten,
    ]);
    for (const [value, p] of [
      [five, 0.05],
      [ten, 0.1],
    ])
      expect(judged(value, terms, 1e7).p).toBeCloseTo(p, 2);
  });

  it('of Dickey and Fuller for 100 and 25 rows with a constant', () => {
    expect(judged(-3, 'constant', 100).critical.five).toBeCloseTo(-2.89, 2);
    expect(judged(-3, 'constant', 25).critical.five).toBeCloseTo(-2.99, 2);
  });

  it('of Kwiatkowski, Phillips, Schmidt and Shin', () => {
    expect(stationarity(noise, 'constant').critical).toMatchObject({ five: 0.463, one: 0.739 });
    expect(stationarity(noise, 'trend').critical).toMatchObject({ five: 0.146, one: 0.216 });
  });
});

describe('series whose properties are known', () => {
  it('x[t] = 0.6 x[t-1] + e correlates as 0.6, 0.36, 0.216, and only lag 1 is its own', () => {
    const { acf, pacf, band } = autocorrelation(recursive(0.6), 5);
    [0.6, 0.36, 0.216, 0.13].forEach((r, at) => expect(acf[at + 1]).toBeCloseTo(r, 1));
    expect(pacf[1]).toBe(acf[1]);
    for (const own of pacf.subarray(2)) expect(Math.abs(own)).toBeLessThan(2 * band);
  });

  it('x[t] = e[t] + 0.5 e[t-1] correlates as 0.5 / 1.25 at lag 1 and not beyond', () => {
    const x = noise.map((shock, t) => shock + 0.5 * (t > 0 ? noise[t - 1] : 0));
    const { acf, band } = autocorrelation(x, 4);
    expect(acf[1]).toBeCloseTo(0.4, 1);
    for (const r of acf.subarray(2)) expect(Math.abs(r)).toBeLessThan(2 * band);
  });

  it('the variance ratio over 2 rows is 1 and the correlation at lag 1 (Lo and MacKinlay 1988)', () => {
    const x = recursive(0.3);
    expect(varianceRatio(x, 2).ratio).toBeCloseTo(1 + autocorrelation(x, 1).acf[1], 3);
    expect(varianceRatio(noise, 2).ratio).toBeCloseTo(1, 1);
  });

  it('a walk has a unit root, and what comes back to its mean has none', () => {
    let level = 0;
    expect(unitRoot(noise.map((step) => (level += step)).subarray(0, 4000)).p).toBeGreaterThan(0.05);
    expect(unitRoot(recursive(0.9).subarray(0, 4000)).p).toBeLessThan(0.001);
  });

  it('the moments of a normal, a uniform and an exponential variable', () => {
    const places = Array.from({ length: ROWS }, (_, at) => (at + 0.5) / ROWS);
    const moments = (of: (p: number) => number) => {
      const { skewness, kurtosis } = summary(Float64Array.from(places, of));
      return [skewness, kurtosis];
    };
    for (const [of, skewness, kurtosis] of [
      [normalQuantile, 0, 0],
      [(p: number) => p, 0, -1.2],
    ] as const) {
      expect(moments(of)[0]).toBeCloseTo(skewness, 2);
      expect(moments(of)[1]).toBeCloseTo(kurtosis, 1);
    }
    expect(moments((p) => -Math.log(1 - p))[0]).toBeCloseTo(2, 1);
  });

  it('the range of n independent values over their deviation grows as the root of n pi / 2 (Feller 1951)', () => {
    for (const n of [500, 2000]) expect(expectedRange(n) / Math.sqrt((n * Math.PI) / 2)).toBeCloseTo(1, 1);
  });

  it('a swing that fits in whole has all its power at one frequency', () => {
    const { peaks } = cycles(Float64Array.from({ length: 960 }, (_, t) => 3 * Math.cos((2 * Math.PI * t) / 32)));
    expect(peaks[0].period).toBe(32);
    expect(peaks[0].share).toBeGreaterThan(0.99);
    // amplitude^2 n / 4
    expect(peaks[0].power).toBeCloseTo((9 * 960) / 4, -1);
  });
});
