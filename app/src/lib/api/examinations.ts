import { PROFILES, QUESTIONS } from '@jaunty-ledger/core';
import { z } from 'zod';
import { BarRuleText, RangeQuery, TapeName } from './tapes';

export const MOST_LAGS = 400;

/** The body of `POST /api/examinations`. */
export const ExaminationBody = z.strictObject({
  tape: TapeName,
  bars: BarRuleText,
  /** The formula whose column is examined. */
  entry: z.string().max(2000).default('close'),
  /** Further entries that it uses. */
  entries: z.array(z.string()).max(100).default([]),
  flagged: z.boolean().optional(),
  /** The bars that it is worked out from and examined on; all without. */
  stretch: RangeQuery.optional(),
  /** What is done to it before, in order: `log`, `change`, `change 34`, `detrended`, `less season 34`. */
  treatments: z.array(z.string().max(40)).max(8).default([]),
  lags: z.number().int().min(1).max(MOST_LAGS).default(40),
  /** Rows of a cycle that it is taken apart by. */
  season: z.number().int().min(2).max(1_000_000).optional(),
  /** What of the calendar its rows are put together by. */
  profile: z.enum(PROFILES).optional(),
  /** Shuffled copies that its memory is held against. */
  shuffles: z.number().int().min(0).max(200).default(200),
  seed: z.number().int().min(0).max(1e9).default(1),
});
export type ExaminationBody = z.infer<typeof ExaminationBody>;

const figure = z.number().nullable();
const figures = z.array(figure);
const Correlations = z.object({ acf: figures, pacf: figures, band: figure, count: z.number().int() });
const Group = z.object({ group: z.number().int(), count: z.number().int(), mean: figure, quartiles: figures });

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
  /** Every so many rows of the columns are given, so that they can be drawn. */
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
    least: figure,
    greatest: figure,
    quartiles: figures,
    zeros: z.number().int(),
  }),
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
  profile: z.object({ by: z.enum(PROFILES), groups: z.array(Group) }).optional(),
  verdicts: z.array(ToldVerdict),
});
export type ToldExamination = z.infer<typeof ToldExamination>;
