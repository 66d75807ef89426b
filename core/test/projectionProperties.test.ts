import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalQuantile } from '../src/numeric/tails.js';
import { accuracy } from '../src/project/accuracy.js';
import { fitArima } from '../src/project/arima/arima.js';
import { chooseArima } from '../src/project/arima/chooseArima.js';
import { garch } from '../src/project/garch.js';
import { modelPhrase, modelText, parseModel, type ArimaModel } from '../src/project/model.js';
import { ModelRefusal } from '../src/project/outlook.js';
import { fitModel, project, projectionOf } from '../src/project/project.js';
import { pathCount, runs, widened } from './simulations.js';

/* What holds of every projection. */

/** Passes where a share of values within their intervals is near 0.95; five of a path lie in or out of them together. */
function expectNear95(share: number): void {
  expect(share).toBeGreaterThan(0.95 - widened(0.03, 0.15, 500));
  expect(share).toBeLessThan(0.95 + widened(0.02, 0.15, 500));
}

/** Normal noise from a seed: the minimal standard generator. */
function* noise(seed: number): Generator<number, never> {
  for (let s = seed * 7919 + 1; ;) {
    s = (s * 16807) % 2147483647;
    yield normalQuantile(s / 2147483647);
  }
}
const made = (seed: number, rows: number, next: (past: number[], e: number) => number): Float64Array => {
  const shocks = noise(seed);
  const past: number[] = [];
  for (let t = 0; t < rows; t++) past.push(next(past, shocks.next().value));
  return Float64Array.from(past);
};
const back = (past: readonly number[], rows: number, start = 0) => past[past.length - rows] ?? start;
const meanOf = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

const TEXTS = [
  ...[
    'last',
    'last season 5',
    'mean',
    'mean 8',
    'drift',
    'trend',
    'trend 9',
    'growth 6',
    'growth',
    'average 4',
    'ema',
    'ema 0.3',
  ],
  ...[
    'garch',
    'ewma 0.94',
    'arima(1, 0, 0)',
    'arima(0, 1, 1) no constant',
    'arima(2, 0, 1)',
    'arima(3, 0, 0) lags 1 3',
  ],
  ...[
    'arima(0, 1, 1)(0, 1, 1) season 4',
    'arima',
    'arima season 4',
    'arima all by bic season 4',
    'mean 8 of log',
    'arima(1, 1, 0) of log',
  ],
];

describe('a model', () => {
  it.each(TEXTS)('%s is written as it is read, and said in words', (text) => {
    const model = parseModel(text);
    expect(modelText(model)).toBe(text);
    expect(parseModel(modelText(model))).toEqual(model);
    expect(modelPhrase(model)).toMatch(/^[a-z]/);
  });

  it.each(['', 'lost', 'mean 0', 'arima(14, 0, 0)', 'arima(1, 3, 0)', 'ema 2', 'ema 0', '__proto__', 'growth 0'])(
    '%j is none',
    (text) => expect(() => parseModel(text)).toThrow(/must be/),
  );
});

describe('a projection', () => {
  const series = fc
    .tuple(fc.integer({ min: 1, max: 500 }), fc.integer({ min: 24, max: 70 }))
    .map(([seed, rows]) => made(seed, rows, (past, e) => 0.7 * back(past, 1, 50) + 15 + e + Math.sin(past.length)));

  it.each(TEXTS.filter((text) => !/^(arima( all.*| season 4)?|garch)$/.test(text)))(
    'by %s sees nothing after its origin, by itself and when it is held against what came',
    (text) => {
      const model = parseModel(text);
      fc.assert(
        fc.property(series, fc.integer({ min: 1, max: 6 }), (x, horizon) => {
          const origin = x.length - 2;
          const found = accuracy(x, [model], { horizon, first: Math.max(16, origin - 3) }).models[0].last!;
          const alone = project(x.subarray(0, origin + 1), model, horizon);
          found.value.forEach((value, h) => {
            expect(value / alone.value[h]).toBeCloseTo(1, 6);
            expect(found.high95[h] - alone.high95[h]).toBeCloseTo(0, 4);
          });
        }),
        { numRuns: runs(text.startsWith('arima') ? 6 : 25) },
      );
    },
  );

  it.each([
    'last',
    'last season 5',
    'mean 8',
    'drift',
    'trend 9',
    'average 4',
    'ema 0.3',
    'arima(1, 0, 0)',
    'arima(0, 1, 1)',
  ])('by %s moves with its values, and grows with them', (text) => {
    const model = parseModel(text);
    fc.assert(
      fc.property(series, fc.integer({ min: -900, max: 900 }), fc.integer({ min: 1, max: 50 }), (x, by, times) => {
        const [a, b] = [
          project(x, model, 4),
          project(
            x.map((value) => by + times * value),
            model,
            4,
          ),
        ];
        a.value.forEach((value, h) => {
          expect(Math.abs(b.value[h] - (by + times * value))).toBeLessThan(1e-3 * times);
          expect(b.deviation[h] / times / a.deviation[h]).toBeCloseTo(1, 3);
          for (const [inner, outer] of [
            [b.low95[h], b.low80[h]],
            [b.low80[h], b.high80[h]],
            [b.high80[h], b.high95[h]],
          ])
            expect(inner).toBeLessThan(outer);
        });
      }),
      { numRuns: 12 },
    );
  });

  it('of three observations is what one works out by hand', () => {
    const x = Float64Array.of(1000, 1200, 1100);
    const next = (text: string) => project(x, parseModel(text), 1).value[0];
    expect(['last', 'mean', 'trend', 'growth 2'].map(next).map((value) => Math.round(10 * value) / 10)).toEqual([
      1100, 1100, 1200, 1153.7,
    ]);
  });
});

describe('ends', () => {
  const walk = (past: number[], e: number) => back(past, 1, 100) + e;
  it.each<[string, (past: number[], e: number) => number]>([
    ['last', walk],
    ['last season 5', (past, e) => back(past, 5, 50) + e],
    ['mean', (_, e) => 20 + e],
    ['drift', (past, e) => walk(past, e) + 0.4],
    ['trend', (past, e) => 5 + 0.1 * past.length + e],
    ['ewma 0.94', (past, e) => back(past, 1, 100) * Math.exp(0.01 * e)],
    ['garch', (past, e) => back(past, 1, 100) * Math.exp(0.01 * e)],
    ['growth 150', (past, e) => back(past, 1, 100) * Math.exp(0.002 + 0.01 * e)],
    ['average 4', (past, e) => (past.length < 4 ? 50 : meanOf(past.slice(-4))) + e],
    ['arima(1, 0, 0)', (past, e) => 10 + 0.6 * (back(past, 1, 10) - 10) + e],
    ['arima(2, 1, 0) no constant', (past, e) => back(past, 1) + 0.4 * (back(past, 1) - back(past, 2)) + e],
  ])('by %s hold 95 of 100 values of what is made so, 5 rows ahead', (text, next) => {
    const model = parseModel(text);
    let [inside, all] = [0, 0];
    for (let seed = 1; seed <= pathCount(500); seed++) {
      const x = made(seed, 205, next);
      const { low95, high95 } = project(x.subarray(0, 200), model, 5);
      for (let h = 0; h < 5; h++, all++) if (x[200 + h] >= low95[h] && x[200 + h] <= high95[h]) inside++;
    }
    expectNear95(inside / all);
  });

  it('by an exponential average hold what is made by one', () => {
    let [inside, all] = [0, 0];
    for (let seed = 1; seed <= pathCount(500); seed++) {
      let level = 30;
      const x = made(seed, 205, (_, e) => {
        const value = level + e;
        level += 0.3 * e;
        return value;
      });
      const { low95, high95 } = project(x.subarray(0, 200), parseModel('ema'), 5);
      for (let h = 0; h < 5; h++, all++) if (x[200 + h] >= low95[h] && x[200 + h] <= high95[h]) inside++;
    }
    expectNear95(inside / all);
  });
});

describe('orders', () => {
  it('are found of what was made by them, with their criteria beside those of others', () => {
    const x = made(5, 600, (past, e) => 0.7 * back(past, 1) + e);
    const { model, candidates, fitted } = chooseArima(x);
    expect([model.d, model.p > 0 || model.q > 0]).toEqual([0, true]);
    expect(candidates.length).toBeGreaterThan(5);
    expect(new Set(candidates.map((one) => one.model.d))).toEqual(new Set([0]));
    expect(Math.min(...candidates.filter((one) => !one.passedOver).map(({ aicc }) => aicc))).toBeCloseTo(
      fitted.aicc,
      1,
    );
    expect(chooseArima(made(6, 400, (past, e) => back(past, 1, 9) + e)).model.d).toBe(1);
    const seasons = made(7, 240, (past, e) => 10 * Math.sin((2 * Math.PI * past.length) / 12) + e);
    expect(chooseArima(seasons, { season: 12 }).model.seasonal).toMatchObject({ d: 1, rows: 12 });
  });

  it('that are stopped on the way end there', () => {
    const goOn = () => {
      throw new Error('stop');
    };
    expect(() =>
      chooseArima(
        made(5, 300, (_, e) => e),
        { goOn },
      ),
    ).toThrow('stop');
    expect(() =>
      fitArima(
        made(5, 300, (_, e) => e),
        parseModel('arima(1, 0, 1)') as ArimaModel,
        undefined,
        { goOn },
      ),
    ).toThrow('stop');
  });

  it('are not looked for where only rounding is left', () => {
    const line = Float64Array.from({ length: 60 }, (_, t) => 0.1 * t + 0.3);
    for (const text of ['arima(0, 1, 1)', 'arima(1, 2, 0)', 'arima(0, 1, 0)'])
      expect(() => project(line, parseModel(text), 3), text).toThrow('nothing left to explain after differencing');
  });

  it('with gaps have no coefficient between', () => {
    const x = made(9, 500, (past, e) => 0.5 * back(past, 1) - 0.4 * back(past, 3) + e);
    const { coefficients, parameters } = fitArima(x, parseModel('arima(3, 0, 0) lags 1 3') as ArimaModel);
    expect([coefficients.ar[1], parameters]).toEqual([0, 4]);
    expect(coefficients.ar[0]).toBeCloseTo(0.5, 1);
    expect(coefficients.ar[2]).toBeCloseTo(-0.4, 1);
  });
});

describe('accuracy', () => {
  const walk = made(3, 400, (past, e) => back(past, 1, 50) + e);

  it('is stopped within a search too, not only between origins', () => {
    let calls = 0;
    const goOn = () => {
      if (++calls > 5) throw new Error('stop');
    };
    const choices = { horizon: 3, first: 390, goOn };
    expect(() => accuracy(walk, [parseModel('arima(2, 0, 2)')], choices)).toThrow('stop');
    calls = 0;
    expect(() => accuracy(walk, [parseModel('garch')], choices)).toThrow('stop');
    expect(calls).toBe(6);
  });

  it('of more projections than memory has room for is refused', () => {
    const long = new Float64Array(60_000).map((_, row) => row % 7);
    expect(() => accuracy(long, [parseModel('last')], { horizon: 1000 })).toThrow(
      'origins times horizon must be at most 5,000,000',
    );
  });

  it.each(['garch', 'ema', 'arima(1, 0, 0)'])('by %s keeps what was found until the next search', (text) => {
    const models = [parseModel(text)];
    let searches = 0;
    const once = accuracy(walk, models, { horizon: 2, first: 380, refit: 100, goOn: () => searches++ });
    const each = accuracy(walk, models, { horizon: 2, first: 380, goOn: () => searches-- });
    // a search at each origin asks far more often, and finds nearly the same
    if (text !== 'ema') expect(searches).toBeLessThan(-100);
    for (const h of [0, 1]) expect(once.models[0].ahead[h].rmse / each.models[0].ahead[h].rmse).toBeCloseTo(1, 1);
  });
});

describe('a variance that moves', () => {
  it('is found of what was made so, and comes back to its level', () => {
    let [h, last] = [1, 0];
    const r = made(11, 4000, (_, e) => {
      h = 0.05 + 0.1 * last ** 2 + 0.85 * h;
      return (last = Math.sqrt(h) * e);
    });
    const found = garch(r);
    expect(found.persistence).toBeCloseTo(0.95, 1);
    expect(found.a).toBeCloseTo(0.1, 1);
    expect(found.halfLife).toBeCloseTo(Math.log(0.5) / Math.log(found.persistence), 9);
    const ahead = found.ahead(2000);
    expect(ahead[1999] / found.level).toBeCloseTo(1, 3);
  });

  it('is not told of too few returns, or equal ones', () => {
    expect(() => garch(new Float64Array(10))).toThrow(ModelRefusal);
    expect(() => garch(new Float64Array(100))).toThrow(/all returns are the same/);
  });
});

it('whatever the values, a model projects them or says why not', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(fc.integer({ min: -5, max: 5 }), fc.constant(0), fc.double({ min: -1e9, max: 1e9, noNaN: true })),
        { maxLength: 40 },
      ),
      fc.constantFrom(...TEXTS.filter((text) => !/^arima( season 4)?$/.test(text))),
      (values, text) => {
        const model = parseModel(text);
        try {
          const fitted = fitModel(Float64Array.from(values), model);
          expect(projectionOf(fitted, model, 3).value.length).toBe(3);
        } catch (error) {
          expect(error).toBeInstanceOf(ModelRefusal);
        }
      },
    ),
    { numRuns: runs(300) },
  ));
