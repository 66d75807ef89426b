import { expect, it } from 'vitest';
import { backtestPlan } from './backtestPlan.js';
import { parseModel } from './model.js';

const planOf = (model: string, rows: number) => backtestPlan(parseModel(model), rows);

it.each(['last', 'trend 60', 'ema', 'garch', 'arima(1, 1, 1)'])('%s has 100 origins and 5 searches', (model) => {
  expect(planOf(model, 5000)).toEqual({ origins: 100, searches: 5 });
});

it('an arima of many parameters is searched for less often, one of many values has fewer origins too', () => {
  expect(planOf('arima(0, 1, 13)', 4500)).toEqual({ origins: 100, searches: 3 });
  expect(planOf('arima(1, 1, 1)(1, 0, 1) season 12', 1300)).toEqual({ origins: 100, searches: 2 });
  expect(planOf('arima(0, 1, 13)', 100_000)).toEqual({ origins: 42, searches: 1 });
  expect(planOf('arima season 60', 200_000)).toEqual({ origins: 20, searches: 1 });
});
