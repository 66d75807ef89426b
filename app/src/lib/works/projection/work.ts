import { z } from 'zod';
import { columnFields, count, figure, figures } from '../fields';
import { work } from '../work';
import { instantText } from '$lib/api/tapes';

export const MOST_HORIZON = 1000;
export const MOST_MODELS = 12;

/** What every question about projections says. */
export const shared = {
  ...columnFields,
  /** Models as they are written: `last`, `average 20`, `arima(2, 1, 1)`, `arima` to have its orders chosen. */
  models: z.array(z.string().max(100)).min(1).max(MOST_MODELS),
  /** Rows ahead. */
  horizon: z.number().int().min(1).max(MOST_HORIZON).default(30),
};

/** The body of `POST /api/projections`. */
const ProjectionBody = z.strictObject({
  ...shared,
  /** The last instant that is seen; the last bar without. */
  origin: instantText.optional(),
  /** A formula that the column is taken as a share of, too. */
  driver: z.string().min(1).max(2000).optional(),
});

const ToldFit = z.object({
  /** The orders, as the model is written. */
  orders: z.string(),
  coefficients: z.array(z.object({ name: z.string(), value: figure, error: figure })),
  count,
  parameters: count,
  logLikelihood: figure,
  variance: figure,
  aic: figure,
  aicc: figure,
  bic: figure,
  /** One-step errors over their deviations: their tests, and what is drawn of them. */
  residuals: z.object({
    /** The last of them, in order. */
    values: figures,
    summary: z.object({ count, mean: figure, stdev: figure }),
    histogram: z.object({ edges: figures, counts: figures }),
    normal: z.object({ quantiles: figures, values: figures }),
    /** From lag 0, as the partial ones. */
    acf: figures,
    pacf: figures,
    /** The p of the Ljung-Box test by its number of lags, from 1. */
    chances: figures,
    band: figure,
    ljungBox: z.object({ lags: count, degrees: count, statistic: figure, p: figure }),
    jarqueBera: z.object({ statistic: figure, p: figure }),
    arch: z.object({ lags: count, statistic: figure, p: figure }),
    says: z.string(),
  }),
  /** All orders that were tried, the best first; nothing where they were given. */
  candidates: z
    .array(z.object({ orders: z.string(), aic: figure, aicc: figure, bic: figure, passedOver: z.string() }))
    .optional(),
});
export type ToldFit = z.infer<typeof ToldFit>;

const ToldModel = z.object({
  /** As it is written, and in words. */
  model: z.string(),
  phrase: z.string(),
  /** Why it cannot have these values. */
  refused: z.string().optional(),
  value: figures,
  /** Of the logarithm where `isOfLog`. */
  deviation: figures,
  isOfLog: z.boolean(),
  low80: figures,
  high80: figures,
  low95: figures,
  high95: figures,
  /** Where it stands at a few horizons: level while the interval holds the last value. */
  ways: z.array(z.object({ ahead: count, value: figure, way: z.enum(['down', 'level', 'up', 'unknown']) })),
  arima: ToldFit.optional(),
  /** Of exponential smoothing likewise: `orders` is its kind, coefficients are weights. */
  smoothing: ToldFit.optional(),
  /** Of `garch`: how its variance moves. */
  garch: z.object({ a: figure, b: figure, persistence: figure, halfLife: figure }).optional(),
});
export type ToldModel = z.infer<typeof ToldModel>;

/** The column at the horizon, by itself and as a share of its driver. */
const ToldShares = z.object({
  /** The driver in words. */
  driver: z.string(),
  /** Rows that have both values. */
  rows: count,
  /** The driver's model is missing where the column goes by itself; the other is that of the share where it is there. */
  outcomes: z.array(
    z.object({
      model: z.string(),
      driver: z.string().optional(),
      value: figure,
      /** The value is the product of these: the forecast share, and the forecast of the driver. */
      factors: z.object({ share: figure, driver: figure }).optional(),
    }),
  ),
  quartiles: z.tuple([figure, figure, figure]),
  /** The share itself: as a series of its own, and as the ratio of both forecasts by one model, with ends of 2,000 draws. */
  shares: z.array(
    z.object({
      model: z.string(),
      refused: z.string().optional(),
      forecast: figure,
      value: figure,
      low80: figure,
      high80: figure,
      low95: figure,
      high95: figure,
    }),
  ),
});
export type ToldShares = z.infer<typeof ToldShares>;

export const ToldProjections = z.object({
  tape: z.string(),
  rule: z.string(),
  phrase: z.string(),
  /** Values that are there, and those left out because they are missing. */
  rows: count,
  missing: count,
  /** The last of the values that is seen, counted from 0. */
  origin: count,
  /** The last values and their times, `from` being the place of the first. */
  from: count,
  time: z.array(z.string()),
  values: figures,
  /** Times of the rows ahead, where the calendar tells them. */
  ahead: z.array(z.string()),
  models: z.array(ToldModel),
  /** Rows of the strongest cycle that is no chance, for models with a season; null where none stands out. */
  season: count.nullable(),
  shares: ToldShares.optional(),
});
export type ToldProjections = z.infer<typeof ToldProjections>;

export const PROJECTION = work({
  path: '/api/projections',
  says: 'Forecasts of models from an origin; data after it are not used.',
  body: ProjectionBody,
  answer: ToldProjections,
});
