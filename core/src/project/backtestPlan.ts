import { MOST_SEASON, type Model } from './model.js';

/** How a model is backtested within a few seconds. */
export interface BacktestPlan {
  /** Origins at most. */
  origins: number;
  /** Searches for the coefficients, spread over the origins. */
  searches: number;
}

const USUAL_ORIGINS = 100;
const USUAL_SEARCHES = 5;
/** Fewer say nothing about errors. */
const MIN_ORIGINS = 20;
/** Values times squared parameters of all searches: about 6 s on one core (docs/performance.md). */
const SEARCH_BUDGET = 2_500_000;
/** Values times states of all passes of the filter: about 6 s where its variance settles late. */
const PASS_BUDGET = 60_000_000;

/**
 * Returns the origins and searches of a backtest: 100 and 5, and fewer for an arima of many parameters or values.
 * It depends on the model and the number of values only, so that a backtest is repeatable.
 * @param rows  values that the model is fitted to
 */
export function backtestPlan(model: Model, rows: number): BacktestPlan {
  const { parameters, states } = sizeOf(model);
  const affordable = (budget: number, work: number) => Math.floor(budget / Math.max(1, rows * work));
  return {
    origins: Math.min(USUAL_ORIGINS, Math.max(MIN_ORIGINS, affordable(PASS_BUDGET, states))),
    searches: Math.min(USUAL_SEARCHES, Math.max(1, affordable(SEARCH_BUDGET, parameters ** 2))),
  };
}

/** Parameters as measured by the time of a search: a seasonal one counts as many as its season has rows. */
function sizeOf(model: Model): { parameters: number; states: number } {
  if (model.kind === 'chosen') {
    const { search, season = 0 } = model;
    return { parameters: (search === 'all' ? 20 : 8) + 2.5 * season, states: 6 + 2 * season };
  }
  if (model.kind === 'smooth' || model.kind === 'chosen smooth') {
    const season = model.season === 'cycles' ? MOST_SEASON : (model.season ?? 0);
    // each pass solves for the start states of a season
    return { parameters: (model.kind === 'smooth' ? 6 : 14) + 2 * season, states: 2 + Math.ceil(season ** 2 / 20) };
  }
  if (model.kind !== 'arima') return { parameters: 0, states: 0 };
  const { p, q, seasonal } = model;
  const [back, shocks] = [
    p + (seasonal ? seasonal.p * seasonal.rows : 0),
    q + (seasonal ? seasonal.q * seasonal.rows : 0),
  ];
  return { parameters: back + shocks, states: Math.max(back, shocks + 1) };
}
