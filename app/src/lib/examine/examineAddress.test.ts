import fc from 'fast-check';
import { expect, it } from 'vitest';
import { parseModel, planEntries, PROFILES } from '@jaunty-ledger/core';
import { addressOf, examinedOf, formulaOf, projectAddress, smoothedOver, usesOf } from './examineAddress';

it('an address holds all that a page shows', () =>
  fc.assert(
    fc.property(
      fc.record({
        page: fc.constant('examine' as const),
        tape: fc.constantFrom('KELP', 'SALT_days'),
        bars: fc.constantFrom('1 day', '15 minutes, empty: carry', '500 trades'),
        entry: fc.string({ minLength: 1 }).filter((text) => text !== ''),
        uses: fc.array(fc.string()),
        from: fc.constantFrom('', '2026-02-02T08:30:00Z'),
        to: fc.constantFrom('', '2026-04-02T08:30:00Z'),
        treatments: fc.array(fc.constantFrom('log', 'change', 'less season 34'), { maxLength: 8 }),
        lags: fc.integer({ min: 1, max: 400 }),
        season: fc.option(fc.integer({ min: 2, max: 1_000_000 }), { nil: null }),
        profile: fc.option(fc.constantFrom(...PROFILES), { nil: null }),
        words: fc.constantFrom('', 'venue'),
        turns: fc.option(fc.integer({ min: 1, max: 90 }), { nil: null }),
        shape: fc.constantFrom('counts' as const, 'normal' as const),
        changes: fc.constantFrom('auto' as const, 'raw' as const, 'log' as const),
        memory: fc.constantFrom('values' as const, 'squares' as const),
        band: fc.constantFrom('noise' as const, 'bartlett' as const),
        beside: fc.constantFrom('', 'WOOL'),
        besideEntry: fc.constantFrom('', 'change(close)'),
      }),
      (examined) => {
        const { searchParams } = new URL(addressOf(examined, 7), 'http://x');
        expect(searchParams.get('kept')).toBe('7');
        expect(examinedOf(searchParams, { tape: '', bars: '', entry: 'close' })).toEqual(examined);
      },
    ),
  ));

it('an entry is examined with those that it uses, and they use', () => {
  const entries = ['slow = mean(close, 9 bars)', 'gap = close - slow', 'wide = 2 * gap', 'own = slow == close'];
  expect(usesOf(entries[2], entries)).toEqual(entries.slice(0, 2));
  expect(usesOf(entries[0], entries)).toEqual([]);
  expect(usesOf('close', entries)).toEqual([]);
});

it.each([
  ['gap = close - open', [], 'close - open'],
  ['close', ['log', 'change'], 'change(log(close))'],
  ['close', ['relative change'], 'return(close)'],
  ['close', ['change 5', 'detrended'], 'detrended(change(close, 5))'],
  ['a = close == 3', ['less season 12'], '(close == 3) - season(close == 3, 12)'],
])('%s taken %j is the formula %s', (entry, treatments, formula) => {
  expect(formulaOf({ entry, treatments })).toBe(formula);
  expect(() => planEntries([formula], { columns: ['open', 'close'] })).not.toThrow();
});

it.each([
  ['close', ['log', 'change'], 0, 'close', 'arima(5, 1, 0) lags 1 5 of log'],
  ['close', [], 0, 'close', 'arima(5, 0, 0) lags 1 5'],
  ['gap = close - open', ['change 3'], 0, 'change(close - open, 3)', 'arima(5, 0, 0) lags 1 5'],
  // lags of values that wander say nothing of a model: its orders are chosen
  ['close', [], 1, 'close', 'arima season 12 of log'],
  ['close', ['change'], 1, 'close', 'arima season 12 of log'],
  ['gap = close - open', ['change 3'], 1, 'change(close - open, 3)', 'arima season 12'],
])(
  'lags of %s taken %j, with %i differences to take, go on to a projection',
  (entry, treatments, differences, projected, model) => {
    const usual = examinedOf(new URLSearchParams('season=12'), { tape: 'KELP', bars: '1 month' });
    const examined = { ...usual, entry, treatments };
    const address = projectAddress(examined, { lags: [1, 5], differences, isOfLogs: true });
    const { searchParams } = new URL(address, 'http://x');
    expect([searchParams.get('entry'), searchParams.getAll('model')]).toEqual([projected, ['last', model]]);
    expect(() => parseModel(model)).not.toThrow();
  },
);

it.each([
  ['mean(close, 20 bars)', [], 20],
  ['close - slow', ['slow = ema(close, 50 bars)', 'quick = mean(close, 9 bars)'], 50],
  ['lag(close, 20 bars)', [], undefined],
  ['close', [], undefined],
])('%s with %j smooths over %s rows', (entry, uses, rows) => expect(smoothedOver({ entry, uses })).toBe(rows));

it('an address that says nothing, or nonsense, is of what is usual', () =>
  expect(
    examinedOf(new URLSearchParams('lags=0&season=x&profile=__proto__&from=abc&to=2026-99-01'), {
      tape: 'KELP',
      bars: '1 day',
    }),
  ).toMatchObject({
    tape: 'KELP',
    bars: '1 day',
    entry: 'close',
    lags: 40,
    season: null,
    profile: null,
    from: '',
    to: '',
  }));
