import fc from 'fast-check';
import { expect, it } from 'vitest';
import { addressOf, projectedOf, USUAL_MODELS } from './projectAddress';
import { inks } from './models';

const model = fc.constantFrom('last', 'average 20', 'arima(2, 1, 1)', 'ema 0.3 of log');

it('an address holds all that a page shows', () =>
  fc.assert(
    fc.property(
      fc.record({
        page: fc.constant('project' as const),
        tape: fc.constantFrom('KELP', 'SALT_days'),
        bars: fc.constantFrom('1 day', '500 trades'),
        entry: fc.string({ minLength: 1 }),
        uses: fc.array(fc.string()),
        from: fc.constantFrom('', '2026-01-02T00:00:00Z'),
        to: fc.constantFrom('', '2026-03-02T00:00:00Z'),
        origin: fc.constantFrom('', '2026-02-02T08:30:00Z'),
        horizon: fc.integer({ min: 1, max: 1000 }),
        models: fc.uniqueArray(model, { minLength: 1 }),
        focus: fc.integer({ min: 0, max: 11 }),
        target: fc.option(
          fc.double({ noNaN: true, noDefaultInfinity: true }).filter((value) => !Object.is(value, -0)),
          { nil: null },
        ),
        lags: fc.constantFrom(40, 12),
        steps: fc.array(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 4 }),
        driver: fc.constantFrom('', 'SALT.close'),
        day: fc.constantFrom('', '2026-05-04T00:00:00Z'),
      }),
      (projected) => {
        const { searchParams } = new URL(addressOf(projected, 3), 'http://x');
        expect(projectedOf(searchParams, { tape: '', bars: '', entry: 'close' })).toEqual(projected);
      },
    ),
  ));

it('models are written in one way, and each stands once', () =>
  expect(
    projectedOf(new URLSearchParams('model=arima(2,1,1)&model=ARIMA(2, 1,1)&model=crystal'), {
      tape: 'K',
      bars: '1 day',
    }).models,
  ).toEqual(['arima(2, 1, 1)', 'crystal']));

it('an address that says nothing, or nonsense, is of what is usual', () =>
  expect(
    projectedOf(new URLSearchParams('horizon=0&origin=abc&focus=-1&target=x'), { tape: 'KELP', bars: '1 day' }),
  ).toMatchObject({
    ...{
      tape: 'KELP',
      bars: '1 day',
      entry: 'close',
      horizon: 30,
      origin: '',
      focus: 0,
      target: null,
      models: USUAL_MODELS,
    },
  }));

it('models beside each other have inks of their own', () =>
  expect(new Set([0, 1, 2, 3, 4, 5, 6, 7].map(inks)).size).toBe(8));
