import fc from 'fast-check';
import { expect, it } from 'vitest';
import { catalogue } from '../catalogue/catalogue.js';
import { evaluate } from './evaluate.js';
import { namesOf } from './frame.js';
import { planEntries } from './plan.js';
import { frameRows, type Frame } from './frame.js';

/* What a value is made of, told before anything is computed: on those rows alone it comes out as on all. */

const ROWS = 420;
const frameOf = (seed: number): Frame => {
  const column = (level: number, k: number) =>
    Float64Array.from({ length: ROWS }, (_, row) =>
      (row * k + seed) % 23 === 0 ? NaN : level + Math.sin(row * row * k + seed),
    );
  return {
    time: Float64Array.from({ length: ROWS }, (_, row) => row * 60e6),
    columns: {
      open: column(100, 1),
      high: column(103, 2),
      low: column(97, 3),
      close: column(100, 4),
      volume: column(50, 5),
    },
  };
};

// a projection goes into no other formula
const examples = [...catalogue.values()].filter(({ ahead }) => !ahead).map(({ example }) => example);
const more = [
  'mean(close, 9 bars, skip: 3)',
  'mean(close, 9 bars, placed: centre)',
  'max(close, 8 bars, placed: ahead)',
  'sum(close, 5 bars, placed: ahead, skip: 7)',
  'lead(lag(close, 4), 9) - close',
  'stdev(logreturn(close), 12 bars, from: 3)',
  'mean(mean(close, 7 bars), 5 bars) / lag(close, 2)',
  'if(close > mean(close, 6 bars), 1, -volume)',
  'bands(change(close, 3), 11 bars, 2).upper',
];
const isUnbounded = [
  'ema(close, 9 bars)',
  'mean(close, this day)',
  'mean(close, 9 bars, each: day)',
  'max(close, all)',
  'cumulative(close)',
  'mean(close, 1 hour)',
  'mean(close, 4 bars) on 5 minutes',
  'lag(close, 5 minutes)',
  'volatility(20 bars)',
];

it('a formula is made of the rows that its reach tells', () => {
  let bounded = 0;
  fc.assert(
    fc.property(
      fc.constantFrom(...examples, ...more),
      fc.constantFrom('mean(it, 4 bars)', 'it', 'it - close'),
      fc.nat(1000),
      fc.nat(ROWS),
      fc.integer({ min: 1, max: 40 }),
      (formula, then, seed, at, count) => {
        const frame = frameOf(seed);
        const entries = [`it = ${formula}`, `then = ${then}`];
        const plans = planEntries(entries, namesOf(frame));
        const { reach } = plans.find(({ name }) => name === 'then')!;
        if (!reach) return;
        bounded++;
        const from = Math.min(at, ROWS - 1);
        const to = Math.min(ROWS, from + count);
        const first = Math.max(0, from - reach.before);
        const part = evaluate(entries, frameRows(frame, first, Math.min(ROWS, to + reach.after)));
        const whole = evaluate(entries, frame);
        whole.forEach(({ name, values }, index) => {
          if (name !== 'then') return;
          const found = part[index].values.subarray(from - first, to - first);
          found.forEach((value, row) => {
            const wanted = values[from + row];
            if (Number.isNaN(wanted)) expect(value).toBeNaN();
            else expect(Math.abs(value - wanted)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(wanted)));
          });
        });
      },
    ),
    { numRuns: 400 },
  );
  expect(bounded).toBeGreaterThan(200);
});

it('one that may be made of any row says so', () => {
  for (const formula of isUnbounded)
    expect(
      planEntries([formula], { columns: ['open', 'high', 'low', 'close', 'volume'] })[0].reach,
      formula,
    ).toBeUndefined();
});
