import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { evaluate, FormulaError, parseModel, planEach, project } from '@jaunty-ledger/core';

const frameOfCloses = (close: number[]) => ({
  time: Float64Array.from(close, (_, row) => row * 86_400e6),
  columns: { close: Float64Array.from(close) },
});
const values = fc.array(
  fc.oneof({ weight: 5, arbitrary: fc.double({ min: 1, max: 100, noNaN: true }) }, fc.constant(NaN)),
  {
    minLength: 40,
    maxLength: 60,
  },
);
const model = fc.constantFrom('last', 'drift', 'trend 20', 'average 5', 'ema 0.3', 'mean of log');

describe('projection(x, model, bars)', () => {
  it('gives what the model says of the bars after the last value, displaced back by their number', () =>
    fc.assert(
      fc.property(values, model, fc.integer({ min: 1, max: 12 }), (close, text, bars) => {
        const last = close.findLastIndex((value) => !Number.isNaN(value));
        fc.pre(close.filter((value) => !Number.isNaN(value)).length > 20 && last >= bars);
        const parts = evaluate([`p = projection(close, "${text}", ${bars})`], frameOfCloses(close));
        const direct = project(Float64Array.from(close), parseModel(text), bars);
        const expected = [direct.value, direct.low95, direct.high95, direct.low80, direct.high80];
        expect(parts.map(({ name }) => name)).toEqual(['p', 'p.low', 'p.high', 'p.low80', 'p.high80']);
        parts.forEach((part, at) => {
          expect([part.ahead, part.looksAhead]).toEqual([bars, true]);
          const there = part.values.map((value, row) => (row + bars > last && row <= last ? value : NaN));
          expect(part.values).toEqual(there);
          expect(part.values.slice(last + 1 - bars, last + 1)).toEqual(expected[at]);
        });
      }),
    ));

  it.each([
    [['mean(projection(close, "last", 5), 3 bars)'], 'stands alone in its entry'],
    [['1 + projection(close, "last", 5)'], 'stands alone in its entry'],
    [['projection(close, "last", 5) on 1 week'], 'stands alone in its entry'],
    [['p = projection(close, "last", 5)', 'q = p.low - 1'], '`p` is a projection'],
    [['projection(close, "last", 5, each: day)'], 'leave `each` out'],
    [['projection(close, "crystal", 5)'], 'model must be'],
    [['projection(close, last, 5)'], 'stands in quotes'],
    [['projection(close)'], 'needs a model in quotes'],
    [['projection(close, "last", 0)'], '`bars` must be a whole number from 1'],
  ])('%j is refused: %s', (entries, says) => {
    const { errors } = planEach(entries, { columns: ['close'] });
    expect([...errors.values()].map(({ message }) => message).join()).toContain(says);
  });

  it.each([
    ['projection(close, "trend", 3)', [5, NaN, NaN], 'needs'],
    ['projection(close, "last of log", 2)', [1, -1, 2, 3, 4], 'logarithm of a value not above 0'],
    ['projection(close, "last", 4)', [1, 2, 3], 'at most as many bars as there are values: 3, not 4'],
  ])('%s of %j says why there is none: %s', (entry, close, says) => {
    const attempt = () => evaluate([entry], frameOfCloses(close));
    expect(attempt).toThrow(FormulaError);
    expect(attempt).toThrow(says);
  });

  it('of a part is that part alone', () => {
    const [low] = evaluate(['projection(close, "drift", 2).low80'], frameOfCloses([1, 2, 4, 5, 7, 8]));
    expect([low.ahead, low.values.slice(4)]).toEqual([
      2,
      project(Float64Array.of(1, 2, 4, 5, 7, 8), parseModel('drift'), 2).low80,
    ]);
  });
});
