import { CHANGES, HURST_METHODS, PROFILES, QUESTIONS } from '@jaunty-ledger/core';
import { z } from 'zod';
import { columnFields, count, figure, figures } from '../fields';
import { work } from '../work';

export const MOST_LAGS = 400;

/** The body of `POST /api/examinations`. */
export const ExaminationBody = z
  .strictObject({
    ...columnFields,
    /** What is done to it before, in order: `log`, `change`, `change 34`, `detrended`, `less season 34`. */
    treatments: z.array(z.string().max(40)).max(8).default([]),
    lags: z.number().int().min(1).max(MOST_LAGS).default(40),
    /** Rows of a cycle that it is taken apart by. */
    season: z.number().int().min(2).max(1_000_000).optional(),
    /** What of the calendar its rows are put together by. */
    profile: z.enum(PROFILES).optional(),
    /** The column of words that its rows are put together by instead. */
    words: z.string().max(200).optional(),
    /** Rows on either side of a turning point. */
    turns: z.number().int().min(1).max(1_000_000).optional(),
    /** Shuffled copies that its memory is held against. */
    shuffles: z.number().int().min(0).max(200).default(200),
    seed: z.number().int().min(0).max(1e9).default(1),
    /** Which changes of levels are asked about: by `auto` log returns where they suit the values. */
    changes: z.enum(CHANGES).default('auto'),
  })
  .refine(({ profile, words }) => !profile || words === undefined, {
    message: '`profile` and `words` both group the rows; leave one of them out',
  });
export type ExaminationBody = z.infer<typeof ExaminationBody>;

const Correlations = z.object({
  acf: figures,
  pacf: figures,
  /** Half the width of the 95 % band of white noise; and Bartlett's by lag, from lag 1 on. */
  band: figure,
  bartlett: figures,
  count: z.number().int(),
});
/** What `min` and `max` were called before. */
const formerName = figure.meta({ deprecated: true });
const Group = z.object({
  name: z.string(),
  count,
  missing: count,
  zeros: count,
  mean: figure,
  stdev: figure,
  min: figure,
  quartiles: figures,
  max: figure,
  least: formerName,
  greatest: formerName,
});
/** Turning points of one kind: how many, the first thousand, and the least, middle and greatest of the rows between. */
const Turns = z.object({ count, rows: z.array(count), apart: z.array(count) });
/** An exponent, the points that it is the slope through, and where 95 % of shuffled copies lie. */
const HurstView = z.object({
  by: z.enum(HURST_METHODS),
  h: figure,
  error: figure,
  spread: figure,
  logSizes: figures,
  logSpreads: figures,
  copies: z.object({ low: figure, high: figure, lowSpreads: figures, highSpreads: figures }),
});
export type ToldHurst = z.infer<typeof HurstView>;

/** One question, its answer, and what it was answered by. */
export const ToldVerdict = z.object({
  question: z.enum(QUESTIONS),
  asks: z.string(),
  answer: z.enum(['yes', 'no', 'open']),
  says: z.string(),
  figures: z.string(),
  but: z.string(),
  supposes: z.string(),
  working: z.array(z.object({ says: z.string(), value: figure })),
  /** Of the question how many it needs: how many make it stationary. */
  differences: z.number().int().optional(),
});
export type ToldVerdict = z.infer<typeof ToldVerdict>;

/** What is answered. Missing figures are null; parts that too few values do not allow are left out. */
export const ToldExamination = z.object({
  tape: z.string(),
  rule: z.string(),
  /** The formula in words, and the treatments. */
  phrase: z.string(),
  treatments: z.array(z.string()),
  rows: z.number().int(),
  /** Each value of the columns stands for so many rows: of every two such stretches the least and the greatest are given. */
  every: z.number().int(),
  time: z.array(z.string()),
  before: figures,
  after: figures,
  summary: z.object({
    count: z.number().int(),
    missing: z.number().int(),
    mean: figure,
    stdev: figure,
    skewness: figure,
    kurtosis: figure,
    min: figure,
    max: figure,
    least: formerName,
    greatest: formerName,
    quartiles: figures,
    zeros: z.number().int(),
  }),
  turns: z.object({ rows: count, tops: Turns, bottoms: Turns }),
  /** Nothing for fewer than 64 changes. */
  hurst: z.array(HurstView),
  histogram: z.object({ edges: figures, counts: figures }),
  /** At most 400 points of the normal plot. */
  normal: z.object({ quantiles: figures, values: figures }),
  memory: z.object({ values: Correlations, squares: Correlations }).optional(),
  cycles: z.object({
    count: z.number().int(),
    filled: z.number().int(),
    /** The greatest power in each of at most 400 stretches of frequencies, and the frequencies in one. */
    power: figures,
    together: z.number().int(),
    peaks: z.array(
      z.object({ j: z.number().int(), period: figure, power: figure, share: figure, g: figure, p: figure }),
    ),
  }),
  season: z
    .object({
      shape: figures,
      trend: figures,
      remainder: figures,
      strength: z.object({ season: figure, trend: figure }),
    })
    .optional(),
  /** Its rows in groups, and rows that belong to none. */
  groups: z.object({ by: z.string(), without: count, list: z.array(Group) }).optional(),
  /** What the changes are that verdicts are on, and whether they could be log returns. */
  changes: z.object({ kind: z.enum(['own', 'raw', 'log']), canBeLogs: z.boolean() }),
  verdicts: z.array(ToldVerdict),
});
export type ToldExamination = z.infer<typeof ToldExamination>;

export const EXAMINATION = work({
  path: '/api/examinations',
  says: 'What one column of bars is like: its shape, its memory, its cycles, and what tests say of it.',
  body: ExaminationBody,
  answer: ToldExamination,
});
