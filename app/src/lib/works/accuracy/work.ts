import { z } from 'zod';
import { count, figure } from '../fields';
import { work } from '../work';
import { shared } from '../projection/work';

/** The body of `POST /api/accuracy`. */
export const AccuracyBody = z.strictObject({
  ...shared,
  /** The first row that is an origin, counted among the values that are there; at seven tenths of them without. */
  first: z.number().int().min(0).optional(),
  /** Rows from one origin to the next; by default so that there are at most 100, of a slow model fewer. */
  step: z.number().int().min(1).optional(),
  /** Origins from one search for a model's coefficients to the next; by default so that there are at most 5 searches, of a slow model fewer. */
  refit: z.number().int().min(1).optional(),
  intervals: z.enum(['model', 'errors']).default('model'),
});
export type AccuracyBody = z.infer<typeof AccuracyBody>;

const ToldMeasures = z.object({
  count,
  rmse: figure,
  mae: figure,
  me: figure,
  mape: figure,
  zeros: count,
  mase: figure,
  with80: count,
  inside80: figure,
  with95: count,
  inside95: figure,
});

export const ToldAccuracy = z.object({
  tape: z.string(),
  rule: z.string(),
  phrase: z.string(),
  /** The most of a model. */
  origins: count,
  /** The first and the last value that was an origin, and the usual rows between two. */
  first: z.string(),
  last: z.string(),
  step: count,
  scale: figure,
  models: z.array(
    z.object({
      model: z.string(),
      refused: z.string().optional(),
      /** Of this model: a slow one has fewer origins, and fewer searches for its coefficients. */
      origins: count,
      step: count,
      searches: count,
      all: ToldMeasures,
      /** By rows ahead, from 1; `against` is its error (RMSE) over that of the last value. */
      ahead: z.array(ToldMeasures.extend({ against: figure, dm: figure, dmp: figure })),
      /** How it does at the horizon, in words. */
      says: z.string(),
    }),
  ),
});
export type ToldAccuracy = z.infer<typeof ToldAccuracy>;

export const ACCURACY = work({
  path: '/api/accuracy',
  says: 'Backtests: errors of the forecasts of models from many origins, compared with those of the last value.',
  body: AccuracyBody,
  answer: ToldAccuracy,
});
