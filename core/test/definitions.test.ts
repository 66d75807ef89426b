import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluate, makeCalendar, type Frame } from '@jaunty-ledger/core';

/* Sections 5 to 9 of the definitions, worked out from their words on random bars with gaps, one row at a time. */

const MINUTE = 60e6;
const START = Date.parse('2026-02-02T08:30:00Z') * 1000;

interface Rows {
  time: number[];
  open: number[];
  high: number[];
  low: number[];
  close: number[];
}

/** Bars whose prices walk in cents; times rise by uneven steps; a close is missing now and then where `gaps` are. */
const barsWith = (gaps: boolean): fc.Arbitrary<Rows> =>
  fc
    .array(
      fc.tuple(
        fc.integer({ min: -40, max: 40 }),
        fc.integer({ min: 0, max: 25 }),
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 0, max: 9 }),
      ),
      { minLength: 3, maxLength: 70 },
    )
    .map((steps) => {
      const rows: Rows = { time: [], open: [], high: [], low: [], close: [] };
      let [cents, time] = [10_000, START];
      for (const [step, reach, wait, gap] of steps) {
        const open = cents;
        cents = Math.max(100, cents + step);
        rows.time.push((time += wait * MINUTE));
        rows.open.push(open / 100);
        rows.high.push((Math.max(open, cents) + reach) / 100);
        rows.low.push(Math.max(1, Math.min(open, cents) - reach) / 100);
        rows.close.push(gaps && gap === 0 ? NaN : cents / 100);
      }
      return rows;
    });

const calendar = makeCalendar({ zone: 'UTC', session: '08:00-16:00' });
const frameOf = ({ time, ...columns }: Rows): Frame => ({
  time: Float64Array.from(time),
  columns: Object.fromEntries(Object.entries(columns).map(([name, values]) => [name, Float64Array.from(values)])),
  calendar,
  rule: '1 hour',
});

/** Holds a formula against its definition: what it should be at row t, of whatever the formula's numbers are. */
function holds<Setting>(
  formula: (setting: Setting) => string,
  settings: fc.Arbitrary<Setting>,
  wanted: (rows: Rows, t: number, setting: Setting) => number,
  { gaps = true, relative = 1e-9 } = {},
): void {
  fc.assert(
    fc.property(barsWith(gaps), settings, (rows, setting) => {
      const [{ values }] = evaluate([formula(setting)], frameOf(rows));
      values.forEach((value, t) => {
        const want = wanted(rows, t, setting);
        if (Number.isNaN(want)) expect(value, `row ${t}: ${value}`).toBeNaN();
        else
          expect(Math.abs(value - want), `row ${t}: ${value}, not ${want}`).toBeLessThanOrEqual(
            relative * (1 + Math.abs(want)),
          );
      });
    }),
    { numRuns: 60 },
  );
}

const count = fc.integer({ min: 1, max: 9 });
const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
const mean = (values: number[]) => sum(values) / values.length;
const variance = (values: number[]) => sum(values.map((x) => (x - mean(values)) ** 2)) / (values.length - 1);
const lastRows = (values: number[], t: number, bars: number) => (t < bars - 1 ? [] : values.slice(t - bars + 1, t + 1));

describe('5. moves and returns', () => {
  const back = ({ close }: Rows, t: number, k: number) => close[t - k] ?? NaN;

  it('lag, lead, change', () => {
    holds((k) => `lag(close, ${k})`, count, back);
    holds(
      (k) => `lead(close, ${k})`,
      count,
      (rows, t, k) => back(rows, t, -k),
    );
    holds(
      (k) => `change(close, ${k})`,
      count,
      (rows, t, k) => rows.close[t] - back(rows, t, k),
    );
  });

  it('returns, in parts and in logarithms', () => {
    holds(
      (k) => `return(close, ${k})`,
      count,
      (rows, t, k) => rows.close[t] / back(rows, t, k) - 1,
    );
    holds(
      (k) => `logreturn(close, ${k})`,
      count,
      (rows, t, k) => Math.log(rows.close[t] / back(rows, t, k)),
    );
  });

  it('over a time: the last value at or before it', () =>
    holds(
      (minutes) => `lag(close, ${minutes} minutes)`,
      fc.integer({ min: 1, max: 300 }),
      ({ time, close }, t, minutes) => {
        const row = time.findLastIndex((at, index) => at <= time[t] - minutes * MINUTE && !Number.isNaN(close[index]));
        return close[row] ?? NaN;
      },
    ));

  it('running sums, and a column that begins at a hundred', () => {
    const valid = ({ close }: Rows, t: number) => close.slice(0, t + 1).filter((x) => !Number.isNaN(x));
    holds(
      () => 'cumulative(close)',
      fc.constant(0),
      (rows, t) => (valid(rows, t).length === 0 ? NaN : sum(valid(rows, t))), // of nothing there is no sum yet
    );
    holds(
      () => 'rebase(close)',
      fc.constant(0),
      (rows, t) => (100 * rows.close[t]) / (valid(rows, t)[0] ?? NaN),
    );
  });
});

describe('6. exponential averages', () => {
  /** The valid values up to a row, with their times; nothing where the row itself has none. */
  const upTo = ({ close, time }: Rows, t: number) =>
    Number.isNaN(close[t])
      ? []
      : close.slice(0, t + 1).flatMap((x, row) => (Number.isNaN(x) ? [] : [{ x, at: time[row] }]));

  it('by a length', () =>
    holds(
      (n) => `ema(close, ${n} bars)`,
      count,
      (rows, t, n) => {
        const valid = upTo(rows, t);
        return valid.length < n ? NaN : valid.slice(1).reduce((y, { x }) => y + (2 / (n + 1)) * (x - y), valid[0].x);
      },
    ));

  it('by a factor, and by a half-life in bars', () => {
    const recursion = (rows: Rows, t: number, a: number) => {
      const valid = upTo(rows, t);
      return valid.length === 0 ? NaN : valid.slice(1).reduce((y, { x }) => a * x + (1 - a) * y, valid[0].x);
    };
    holds(
      (k) => `ema(close, factor: 0.${k})`,
      count,
      (rows, t, k) => recursion(rows, t, k / 10),
    );
    holds(
      (h) => `ema(close, halflife: ${h} bars)`,
      count,
      (rows, t, h) => recursion(rows, t, 1 - 2 ** (-1 / h)),
    );
  });

  it('seeded by a mean', () =>
    holds(
      (n) => `ema(close, ${n} bars, start: mean)`,
      count,
      (rows, t, n) => {
        const valid = upTo(rows, t).map(({ x }) => x);
        if (valid.length < n) return NaN;
        return valid.slice(n).reduce((y, x) => y + (2 / (n + 1)) * (x - y), mean(valid.slice(0, n)));
      },
    ));

  it('weighted by what has come so far', () =>
    holds(
      (n) => `ema(close, ${n} bars, start: weighted, from: 1)`,
      count,
      (rows, t, n) => {
        const valid = upTo(rows, t).map(({ x }) => x);
        const weights = valid.map((_, i) => (1 - 2 / (n + 1)) ** (valid.length - 1 - i));
        return valid.length === 0 ? NaN : sum(valid.map((x, i) => weights[i] * x)) / sum(weights);
      },
    ));

  it('by elapsed time', () =>
    holds(
      (minutes) => `ema(close, halflife: ${minutes} minutes)`,
      fc.integer({ min: 1, max: 200 }),
      (rows, t, minutes) => {
        const valid = upTo(rows, t);
        if (valid.length === 0) return NaN;
        return valid.slice(1).reduce((y, { x, at }, i) => {
          const kept = 2 ** (-(at - valid[i].at) / (minutes * MINUTE));
          return kept * y + (1 - kept) * x;
        }, valid[0].x);
      },
    ));
});

describe('7. trade measures', () => {
  it('bands lie so many deviations of the divisor m about the mean', () =>
    holds(
      (n) => `bands(close, ${n + 1} bars, 2).upper`,
      count,
      ({ close }, t, n) => {
        const window = lastRows(close, t, n + 1).filter((x) => !Number.isNaN(x));
        if (window.length < n + 1) return NaN;
        return mean(window) + 2 * Math.sqrt((variance(window) * (window.length - 1)) / window.length);
      },
      { relative: 1e-7 },
    ));

  it('the gap of a macd is its line less its signal, which is an average of the line', () =>
    fc.assert(
      fc.property(barsWith(true), (rows) => {
        const entries = [
          'm = macd(close, 3, 6, 4)',
          'line = ema(close, 3 bars) - ema(close, 6 bars)',
          'signal = ema(line, 4 bars)',
          'gap = line - signal',
        ];
        const columns = new Map(evaluate(entries, frameOf(rows)).map(({ name, values }) => [name, values]));
        expect(columns.get('m.signal')).toEqual(columns.get('signal'));
        expect(columns.get('m.gap')).toEqual(columns.get('gap'));
      }),
    ));

  const trueRange = ({ high, low, close }: Rows, t: number) =>
    t === 0 ? high[0] - low[0] : Math.max(high[t], close[t - 1]) - Math.min(low[t], close[t - 1]);

  it('the true range, and its average seeded by a mean', () => {
    holds(() => 'truerange()', fc.constant(0), trueRange, { gaps: false });
    holds(
      (n) => `atr(${n} bars)`,
      count,
      (rows, t, n) => {
        const ranges = Array.from({ length: t + 1 }, (_, row) => trueRange(rows, row));
        if (ranges.length < n) return NaN;
        return ranges.slice(n).reduce((y, x) => y + (x - y) / n, mean(ranges.slice(0, n)));
      },
      { gaps: false },
    );
  });

  it('rises against falls', () =>
    holds(
      (n) => `rsi(close, ${n} bars)`,
      count,
      ({ close }, t, n) => {
        const moves = Array.from({ length: t }, (_, row) => close[row + 1] - close[row]);
        if (moves.length < n) return NaN;
        const average = (part: (move: number) => number) =>
          moves
            .slice(n)
            .map(part)
            .reduce((y, x) => y + (x - y) / n, mean(moves.slice(0, n).map(part)));
        const [up, down] = [average((move) => Math.max(0, move)), average((move) => Math.max(0, -move))];
        if (up === 0 && down === 0) return 50;
        return down === 0 ? 100 : 100 - 100 / (1 + up / down);
      },
      { gaps: false, relative: 1e-7 },
    ));
});

describe('8. volatility', () => {
  const n = fc.integer({ min: 3, max: 12 });
  const perBar = (by: string) => (bars: number) => `volatility(${bars} bars, by: ${by}, per: bar)`;
  const ln = Math.log;
  const window = <T>(t: number, bars: number, of: (row: number) => T): T[] =>
    t < bars - 1 ? [] : Array.from({ length: bars }, (_, i) => of(t - bars + 1 + i));
  const logReturns = ({ close }: Rows, t: number, bars: number) =>
    t < bars ? [] : Array.from({ length: bars }, (_, i) => ln(close[t - i] / close[t - i - 1]));
  const root = (terms: number[], of: (terms: number[]) => number) => (terms.length === 0 ? NaN : Math.sqrt(of(terms)));
  const exact = { gaps: false, relative: 1e-8 };

  it('by the close', () =>
    holds(perBar('close'), n, (rows, t, bars) => root(logReturns(rows, t, bars), variance), exact));

  it('by the range', () =>
    holds(
      perBar('parkinson'),
      n,
      (rows, t, bars) =>
        root(
          window(t, bars, (i) => ln(rows.high[i] / rows.low[i]) ** 2 / (4 * Math.LN2)),
          mean,
        ),
      exact,
    ));

  it('by range and body', () =>
    holds(
      perBar('garman-klass'),
      n,
      (rows, t, bars) => {
        const terms = window(
          t,
          bars,
          (i) => 0.5 * ln(rows.high[i] / rows.low[i]) ** 2 - (2 * Math.LN2 - 1) * ln(rows.close[i] / rows.open[i]) ** 2,
        );
        return root(terms, (all) => Math.max(0, mean(all)));
      },
      exact,
    ));

  it('without a drift', () =>
    holds(
      perBar('rogers-satchell'),
      n,
      (rows, t, bars) =>
        root(
          window(t, bars, (i) => {
            const [o, h, l, c] = [rows.open[i], rows.high[i], rows.low[i], rows.close[i]].map(ln);
            return (h - c) * (h - o) + (l - c) * (l - o);
          }),
          (all) => Math.max(0, mean(all)),
        ),
      exact,
    ));

  it('weighted by a factor', () =>
    holds(
      () => 'volatility(by: ewma, per: bar)',
      fc.constant(0),
      (rows, t) => {
        const moves = logReturns(rows, t, t).reverse();
        if (moves.length === 0) return NaN;
        return Math.sqrt(moves.slice(1).reduce((v, r) => 0.94 * v + 0.06 * r * r, moves[0] ** 2));
      },
      exact,
    ));

  it('a day and a year hold so many bars as the session and the calendar say', () =>
    fc.assert(
      fc.property(barsWith(false), (rows) => {
        const at = (per: string) => evaluate([`volatility(3 bars, per: ${per})`], frameOf(rows))[0].values;
        const [bar, day, year] = ['bar', 'day', 'year'].map(at);
        bar.forEach((value, t) => {
          if (Number.isNaN(value) || value === 0) return;
          expect(day[t] / value).toBeCloseTo(Math.sqrt(8), 9); // eight hours of one bar each
          expect(year[t] / day[t]).toBeCloseTo(Math.sqrt(365.2425), 9); // no weekday and no date is closed
        });
      }),
    ));
});
