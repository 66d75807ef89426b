import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import { rollingCount, rollingQuantile } from './order.js';
import { rollingMean, rollingSum } from './rollingSum.js';
import { rollingStdev, rollingVariance } from './moments.js';
import { lastBars, type Window } from './window.js';

/** Values with gaps, in three sizes at once, so that cancellation would show. */
const value = fc.oneof(
  { weight: 8, arbitrary: fc.integer({ min: -1000, max: 1000 }).map((x) => x / 8) },
  { weight: 1, arbitrary: fc.constantFrom(NaN, Infinity) },
  { weight: 1, arbitrary: fc.constantFrom(1e9, 1e12) },
);
const column = fc.array(value, { minLength: 1, maxLength: 200 }).map((values) => Float64Array.from(values));
const windows: fc.Arbitrary<Window> = fc.oneof(
  fc.record({
    kind: fc.constant('bars' as const),
    bars: fc.integer({ min: 1, max: 40 }),
    placed: fc.constantFrom('behind', 'centre', 'ahead'),
    skip: fc.integer({ min: 0, max: 5 }),
  }),
  fc.record({
    kind: fc.constant('time' as const),
    micros: fc.integer({ min: 1, max: 30 }).map((minutes) => minutes * 60e6),
    skip: fc.integer({ min: 0, max: 3 }),
  }),
  fc.record({
    kind: fc.constant('this' as const),
    period: fc.constantFrom('session', 'day', 'week', 'month', 'year'),
    skip: fc.integer({ min: 0, max: 2 }),
  }),
  fc.record({ kind: fc.constant('all' as const), skip: fc.integer({ min: 0, max: 2 }) }),
);
const calendar = makeCalendar({ zone: 'UTC' });
const rowTimes = (rows: number) => ({
  time: Float64Array.from({ length: rows }, (_, row) => row * 7 * 60e6),
  calendar,
});

/** The rows of a window, straight from the definition. */
function rowsOf(window: Window, t: number, time: Float64Array): number[] {
  const all = Array.from(time.keys());
  const last = t - window.skip;
  switch (window.kind) {
    case 'bars': {
      const ahead = { behind: 0, centre: Math.ceil((window.bars - 1) / 2), ahead: window.bars - 1 }[window.placed];
      return all.filter((row) => row > last + ahead - window.bars && row <= last + ahead);
    }
    case 'time':
      return all.filter((row) => row <= last && time[row] > time[last] - window.micros);
    case 'months': {
      const at = new Date(time[last] / 1000);
      const start = new Date(Date.UTC(at.getUTCFullYear(), at.getUTCMonth() - window.months, 1));
      const days = new Date(Date.UTC(start.getUTCFullYear(), start.getUTCMonth() + 1, 0)).getUTCDate();
      const before = start.getTime() * 1000 + (Math.min(days, at.getUTCDate()) - 1) * 86_400e6;
      return all.filter((row) => row <= last && Math.floor(time[row] / 86_400e6) * 86_400e6 > before);
    }
    case 'this': {
      const length = { session: 10, day: 10, week: 0, month: 7, year: 4 }[window.period];
      const key = (row: number) => new Date(time[row] / 1000).toISOString().slice(0, length);
      const isSame = (row: number) =>
        window.period === 'week' ? weekOf(time[row]) === weekOf(time[t]) : key(row) === key(t);
      return all.filter((row) => row <= last && isSame(row));
    }
    case 'all':
      return all.filter((row) => row <= last);
  }
}

const weekOf = (instant: number) => Math.floor((instant / 86_400e6 + 3) / 7);

function expectNear(got: Float64Array, want: (t: number) => [number, number], relative: number): void {
  got.forEach((value, t) => {
    const [wanted, size] = want(t);
    if (Number.isNaN(wanted)) return expect(value, `row ${t}`).toBeNaN();
    expect(Math.abs(value - wanted), `row ${t}: ${value}, ${wanted}`).toBeLessThanOrEqual(relative * size + 1e-300);
  });
}

describe('windows by the calendar', () => {
  it('hold the rows whose date lies after the date so many months before', () =>
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 40 * 24 }), { minLength: 1, maxLength: 120 }),
        fc.constantFrom(1, 2, 3, 12, 18),
        fc.integer({ min: 0, max: 2 }),
        (hours, months, skip) => {
          let at = Date.UTC(2023, 0, 30) * 1000;
          const time = Float64Array.from(hours, (wait) => (at += wait * 3600e6));
          const window = { kind: 'months' as const, months, skip };
          const counted = rollingCount(new Float64Array(time.length).fill(1), window, 0, { time, calendar });
          counted.forEach((count, t) => expect(count, `row ${t}`).toBe(t < skip ? 0 : rowsOf(window, t, time).length));
        },
      ),
    ));
});

describe('windows of every kind, by the naive definition', () => {
  it('sums and means', () =>
    fc.assert(
      fc.property(column, windows, fc.integer({ min: 1, max: 5 }), (x, window, from) => {
        const times = rowTimes(x.length);
        const valid = (t: number) =>
          rowsOf(window, t, times.time)
            .map((row) => x[row])
            .filter(Number.isFinite);
        const total = (some: number[]) => some.reduce((sum, v) => sum + v, 0);
        const wanted = (t: number, divide: boolean): [number, number] => {
          const some = valid(t);
          const divisor = divide ? some.length : 1;
          return some.length < from ? [NaN, 0] : [total(some) / divisor, total(some.map(Math.abs)) / divisor];
        };
        expectNear(rollingSum(x, window, from, times), (t) => wanted(t, false), 1e-13);
        expectNear(rollingMean(x, window, from, times), (t) => wanted(t, true), 1e-13);
      }),
    ));

  it('variances', () =>
    fc.assert(
      fc.property(column, windows, fc.constantFrom('m-1' as const, 'm' as const), (x, window, divisor) => {
        const times = rowTimes(x.length);
        expectNear(
          rollingVariance(x, window, 1, { divisor }, times),
          (t) => {
            const some = rowsOf(window, t, times.time)
              .map((row) => x[row])
              .filter(Number.isFinite);
            if (some.length < 2) return [NaN, 0];
            // all values are whole eighths, so sums of whole eighths are exact in big integers
            const eighths = some.map((v) => BigInt(v * 8));
            const m = BigInt(some.length);
            const sum = eighths.reduce((a, b) => a + b, 0n);
            const squares = eighths.reduce((a, b) => a + (m * b - sum) * (m * b - sum), 0n);
            const variance = Number(squares) / 64 / some.length ** 2 / (some.length - (divisor === 'm' ? 0 : 1));
            return [variance, variance];
          },
          1e-11,
        );
      }),
    ));
});

describe('laws', () => {
  const bars = fc.integer({ min: 2, max: 30 });
  const tame = fc
    .array(fc.integer({ min: -1000, max: 1000 }), { minLength: 1, maxLength: 100 })
    .map((values) => Float64Array.from(values));

  it('a shift moves the mean and leaves the deviation; a factor scales both', () =>
    fc.assert(
      fc.property(tame, bars, fc.integer({ min: -1e9, max: 1e9 }), (x, length, by) => {
        const window = lastBars(length);
        const spread = (values: Float64Array) => rollingStdev(values, window, length, { divisor: 'm-1' });
        const shifted = x.map((value) => value + by);
        expectNear(
          rollingMean(shifted, window, length),
          (t) => [rollingMean(x, window, length)[t] + by, Math.abs(by) + 1000],
          1e-15,
        );
        expect(spread(shifted)).toEqual(spread(x));
        expect(spread(x.map((value) => value * 4))).toEqual(spread(x).map((value) => value * 4));
      }),
    ));

  it('values that do not change have no deviation at all', () =>
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, noDefaultInfinity: true, min: -1e12, max: 1e12 }),
        bars,
        (constant, length) => {
          const spread = rollingStdev(new Float64Array(100).fill(constant), lastBars(length), length, { divisor: 'm' });
          expect(spread.subarray(length - 1).every((value) => value === 0)).toBe(true);
        },
      ),
    ));

  it('a spike of 1e12 is forgotten with the row that leaves the window', () =>
    expect(rollingMean(Float64Array.of(1e12, 0.1, 0.2), lastBars(2), 2)[2]).toBe((0.1 + 0.2) / 2));
});

it('a quantile over full windows is that of the window in order', () =>
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.integer({ min: 0, max: 9 }), fc.double({ noNaN: true, min: -1e6, max: 1e6 })), {
        maxLength: 150,
      }),
      fc.integer({ min: 1, max: 40 }),
      fc.constantFrom(0, 0.1, 0.25, 0.5, 0.9, 1),
      (list, bars, p) => {
        const found = rollingQuantile(Float64Array.from(list), p, lastBars(bars), bars);
        list.forEach((_, row) => {
          if (row < bars - 1) return expect(found[row]).toBeNaN();
          const sorted = list.slice(row - bars + 1, row + 1).sort((a, b) => a - b);
          const place = p * (bars - 1);
          const [low, high] = [sorted[Math.floor(place)], sorted[Math.ceil(place)]];
          expect(found[row]).toBeCloseTo(low + (place - Math.floor(place)) * (high - low), 6);
        });
      },
    ),
  ));

it('a window far longer than the column has no value, and takes no memory for what it might hold', () =>
  expect(rollingQuantile(Float64Array.of(1, 2, 3), 0.5, lastBars(1e9), 1e9)).toEqual(Float64Array.of(NaN, NaN, NaN)));
