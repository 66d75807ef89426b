import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { modelText, parseModel } from '@jaunty-ledger/core';
import type { ToldModel } from '$lib/works/projection/work';
import { modelParts, projectedHere, reachedBy, readModel, turned, withLag } from './models';
import { asWritten } from './projectAddress';

const MODELS = [
  'last season 7',
  'average 20',
  'ema 0.3',
  'arima(2, 1, 1)',
  'arima(0, 1, 1)(0, 1, 1) season 12 no constant',
];

describe('a model as it is written', () => {
  it('is its parts put together again, whole numbers among them apart', () =>
    fc.assert(
      fc.property(fc.constantFrom(...MODELS), (text) => {
        const parts = modelParts(text);
        expect(parts.map((part) => part.text).join('')).toBe(text);
        for (const { start, text: part } of parts) expect(text.slice(start, start + part.length)).toBe(part);
      }),
    ));

  it.each([
    ['average 20', [20]],
    ['ema 0.3', []],
    ['arima(2, 1, 1)', [2, 1, 1]],
    ['arima(0, 1, 1)(0, 1, 1) season 12', [0, 1, 1, 0, 1, 1, 12]],
    ['last', []],
  ])('%s has the numbers %j to turn', (text, numbers) =>
    expect(modelParts(text).flatMap(({ number }) => (number === undefined ? [] : [number]))).toEqual(numbers),
  );

  it('with a number turned is that model', () => {
    const [, , third] = modelParts('arima(2, 1, 1)').filter(({ number }) => number !== undefined);
    expect(turned('arima(2, 1, 1)', third, 3)).toBe('arima(2, 1, 3)');
    expect(turned('average 20', modelParts('average 20')[1], 9)).toBe('average 9');
  });

  it('is read as simple, as one for the server, or as none', () => {
    expect(readModel('trend 60')).toEqual({ isSimple: true });
    expect(readModel('arima(1, 0, 0)')).toEqual({ isSimple: false });
    expect(readModel('arima')).toEqual({ isSimple: false });
    expect(readModel('mean 0')).toEqual({ problem: expect.stringContaining('rows must be') });
  });

  it.each(['ARIMA(2,1, 1)', 'arima (2, 1,1)', ' arima(2, 1, 1) '])('%j is written in one way', (text) =>
    expect(asWritten(text)).toBe('arima(2, 1, 1)'),
  );

  it('that is none stays as it is', () => {
    expect(asWritten('crystal ball')).toBe('crystal ball');
    for (const text of MODELS) expect(asWritten(text)).toBe(modelText(parseModel(text)));
  });
});

describe('worked out in the page', () => {
  const values = Float64Array.of(1000, 1200, 1100);

  it('a simple model says what the server says', () => {
    expect(projectedHere(values, 'last', 2)).toEqual([1100, 1100]);
    expect(projectedHere(values, 'mean', 1)).toEqual([1100]);
    expect(projectedHere(values, 'trend', 2)!.map(Math.round)).toEqual([1200, 1250]);
  });

  it('an arima, and a model that cannot have the values, say nothing', () => {
    expect(projectedHere(values, 'arima(1, 0, 0)', 2)).toBeUndefined();
    expect(projectedHere(values, 'average 9', 2)).toBeUndefined();
  });
});

describe('a target', () => {
  const told = (value: number[], deviation: (number | null)[], isOfLog = false) =>
    ({ value, deviation, isOfLog }) as unknown as ToldModel;

  it.each<[string, ToldModel, number, number, ReturnType<typeof reachedBy>]>([
    ['is reached from below', told([101, 102, 103], [1, 1, 1]), 102, 100, { ahead: 2, beyond: 0.5 }],
    ['is reached from above', told([99, 98, 97], [1, 1, 1]), 98, 100, { ahead: 2, beyond: 0.5 }],
    ['of logarithms', told([100, 110], [0.1, 0.1], true), 110, 100, { ahead: 2, beyond: 0.5 }],
    ['without a deviation has no share', told([100, 110], [null, null]), 105, 100, { ahead: 2, beyond: undefined }],
    [
      'below 0 is never reached by logarithms',
      told([100, 90], [0.1, 0.1], true),
      -5,
      100,
      { ahead: undefined, beyond: undefined },
    ],
    ['of nothing is not reached', told([], []), 5, 100, { ahead: undefined, beyond: undefined }],
  ])('%s', (_, model, target, last, wanted) => expect(reachedBy(model, target, last)).toEqual(wanted));

  it('that is farther has less of the fan beyond it', () =>
    fc.assert(
      fc.property(fc.integer({ min: 101, max: 150 }), fc.integer({ min: 1, max: 50 }), (target, more) => {
        const model = told([100, 100.5, 100.8], [1, 2, 3]);
        const [near, far] = [target, target + more].map((one) => reachedBy(model, one, 100).beyond!);
        expect(far).toBeLessThanOrEqual(near);
        expect(near).toBeLessThan(0.5);
      }),
    ));
});

it.each([
  ['arima(2, 1, 1)', 11, 'arima(11, 1, 1) lags 1 2 11'],
  ['arima(2, 0, 0) of log', 3, 'arima(3, 0, 0) of log'],
  ['arima(11, 0, 0) lags 1 11', 5, 'arima(11, 0, 0) lags 1 5 11'],
  ['arima(2, 1, 1)', 2, undefined],
  ['arima(2, 1, 1)', 14, undefined],
  ['arima(1, 0, 0)(1, 0, 0) season 4', 8, undefined],
  ['smooth trend', 3, undefined],
])('%s takes up lag %i as %s', (model, lag, next) => expect(withLag(model, lag)).toBe(next));
