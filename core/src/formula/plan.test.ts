import { describe, expect, it } from 'vitest';
import { evaluate } from './evaluate.js';
import { planEach, planEntries } from './plan.js';

const columns = ['close', 'volume'];
const frame = (more = {}) => ({
  time: Float64Array.of(0, 1e6, 2e6),
  columns: { close: Float64Array.of(3, 5, 4), ...more },
});

/** `e1 = close`, and each further entry made of the one before it, or of the two. */
const chain = (length: number, uses: 1 | 2) =>
  Array.from({ length }, (_, index) => {
    const [one, two] = [index, index - 1].map((before) => (before > 0 ? `e${before}` : 'close'));
    return `e${index + 1} = ${uses === 1 ? `${one} + 1` : `(${one} + ${two}) / 2`}`;
  });

describe('a chain of entries', () => {
  it.each([
    [1000, 1],
    [100, 2],
  ] as const)('of %i that use %i before them is planned, with keys of one length', (length, uses) => {
    const plans = planEntries(chain(length, uses), { columns });
    expect(plans.map(({ name }) => name)).toEqual(plans.map((_, index) => `e${index + 1}`));
    expect(new Set(plans.map(({ key }) => key)).size).toBe(length);
    expect(new Set(plans.map(({ key }) => key.length))).toEqual(new Set([32]));
  });

  it('is planned whatever the order in which it is written', () => {
    const entries = chain(1000, 1).reverse();
    const { plans, errors } = planEach(entries, { columns });
    expect([plans.length, errors.size, plans[0].name, plans[999].name]).toEqual([1000, 0, 'e1', 'e1000']);
  });

  it('has other keys from the entry on that is changed, and no others', () => {
    const keys = (entries: string[]) => planEntries(entries, { columns }).map(({ key }) => key);
    const [before, after] = [chain(9, 1), chain(9, 1).with(4, 'e5 = e4 + 2')].map(keys);
    expect(after.map((key, index) => key === before[index])).toEqual([1, 1, 1, 1, 0, 0, 0, 0, 0].map(Boolean));
  });
});

it('an entry that cannot be used is told of with those that use it, and the others are planned', () => {
  const { plans, errors } = planEach(['a = mean(close', 'b = a + 1', 'c = close', 'd = b * c'], { columns });
  expect(plans.map(({ name }) => name)).toEqual(['c']);
  expect([...errors].map(([index, { message }]) => [index, message.slice(0, 24)])).toEqual([
    [0, 'a closing `)` is missing'],
    [1, '`a` cannot be used: see '],
    [3, '`b` cannot be used: see '],
  ]);
});

describe('names that every object has', () => {
  it.each(['toString', 'constructor', 'valueOf', 'hasOwnProperty', '__proto__'])(
    '%s is a name like any other',
    (name) => {
      const entries = [`${name} = close + 1`, `next = ${name} * 2`, `w = window(max(${name}), ${name}: close, 2 bars)`];
      expect(evaluate(entries, frame()).map(({ values }) => [...values])).toEqual([
        [4, 6, 5],
        [8, 12, 10],
        [NaN, 5, 5],
      ]);
      const given = frame(Object.fromEntries([[name, Float64Array.of(1, 2, 3)]]));
      expect([...evaluate([`x = ${name}`], given)[0].values]).toEqual([1, 2, 3]);
    },
  );

  it('mean nothing as units, options or bar rules', () => {
    const refusal = (formula: string) => () => planEntries([formula], { columns });
    expect(refusal('mean(close, 5 constructor)')).toThrow('`constructor` is no unit of length');
    expect(refusal('mean(close, 5 bars, toString: 3)')).toThrow('`mean` has no option `toString`');
    expect(refusal('close on 5 toString')).toThrow('`toString` is no unit for bars');
  });
});

describe('on rows that are only numbered', () => {
  const refusal = (entry: string) =>
    planEach([entry], { columns, undated: true, others: new Map() }).errors.get(0)?.message ?? 'planned';

  it.each([
    'mean(close, 30 days)',
    'sum(volume, this month)',
    'close on 1 week',
    'mean(close, 20 bars, each: session)',
    'log(mean(close, [10, 20] minutes))',
  ])('%s needs dates', (entry) => expect(refusal(entry)).toMatch(/needs dates; .* count rows, as in `20 bars`/));

  it.each(['mean(close, 20 bars)', 'ema(close, [10, 20] bars)', 'sum(volume, all)'])('%s does not', (entry) =>
    expect(refusal(entry)).toBe('planned'),
  );
});

describe('the unit of a formula', () => {
  const bars = ['open', 'high', 'low', 'close', 'volume', 'value'];
  it.each([
    ['close', 'price'],
    ['(high + low) / 2', 'price'],
    ['mean(close, 20 bars) + 2 * stdev(close, 20 bars)', 'price'],
    ['sum(value, all) / sum(volume, all)', 'price'],
    ['change(close)', 'move'],
    ['close - open', 'move'],
    ['high - low', 'move'],
    ['abs(close - mean(close, 5 bars)) * 2', 'move'],
    ['mean(change(close), 5 bars)', 'move'],
    ['slope(close, 30 bars)', 'move'],
    ['stdev(close, 20 bars)', 'move'],
    ['macd(close, 12, 26, 9)', 'move'],
    ['atr(14 bars)', 'move'],
    ['close - atr(14 bars)', 'price'],
    ['slope(log(close), 30 bars)', 'number'],
    ['variance(close, 20 bars)', 'number'],
    ['close / open', 'number'],
    ['atr(14 bars) / close', 'number'],
    ['return(close)', 'fraction'],
    ['mean(volume, 5 bars)', 'units'],
    ['close * volume', 'value'],
    ['close > open', 'truth'],
  ])('%s is in %s', (entry, unit) => expect(planEntries([`x = ${entry}`], { columns: bars })[0].unit).toBe(unit));
});
