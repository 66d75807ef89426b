import type { OrderedMatrix } from '@jaunty-ledger/core';
import { z } from 'zod';
import { count, figure, figures } from '../fields';
import { work } from '../work';
import { BarRuleText, RangeQuery, TapeName } from '$lib/api/tapes';

export const MOST_MEMBERS = 500;

/** One column that is compared: a formula of a tape. */
export const Member = z.strictObject({ tape: TapeName, entry: z.string().min(1).max(2000).default('close') });
export type Member = z.infer<typeof Member>;

/** A member as it is written: its tape, and the formula where it is not the close. */
export const memberText = ({ tape, entry }: Member): string => (entry === 'close' ? tape : `${tape}: ${entry}`);

/** Which rows columns are joined on. */
export const JOINS = ['common', 'all', 'carried'] as const;
export const ORDERS = ['given', 'name', 'likeness', 'reference'] as const;
export const OF = ['returns', 'levels'] as const;

const place = z
  .number()
  .int()
  .min(0)
  .max(MOST_MEMBERS - 1);
const rows = z.number().int().min(2).max(1_000_000);

/** How two of the members are held against each other. */
export const PairBody = z.strictObject({
  /** Their places among the members. */
  a: place,
  b: place,
  of: z.enum(OF).default('returns'),
  /** Rows of the rolling correlation. */
  window: rows.default(60),
  by: z.enum(['spread', 'ratio']).default('spread'),
  /** How far the one goes with the other: a number, `all` rows, or the last so many. */
  beta: z.union([z.number(), z.literal('all'), z.strictObject({ rows })]).default(1),
  partedBy: z.enum(['deviations', 'correlation']).default('deviations'),
  /** Rows that deviations are taken from. */
  rows: rows.default(60),
  begin: z.number().optional(),
  end: z.number().optional(),
  lags: z.number().int().min(0).max(1000).default(20),
});
export type PairBody = z.infer<typeof PairBody>;

/** The body of `POST /api/comparisons`. */
export const ComparisonBody = z.strictObject({
  members: z.array(Member).min(1).max(MOST_MEMBERS),
  bars: BarRuleText,
  flagged: z.boolean().optional(),
  stretch: RangeQuery.optional(),
  rows: z.enum(JOINS).default('common'),
  /** What is correlated, and over how many of the last rows; all without. */
  of: z.enum(OF).default('returns'),
  window: rows.optional(),
  order: z.enum(ORDERS).default('given'),
  /** The place of the member that `reference` orders the others by, those that go with it most first. */
  reference: place.default(0),
  average: z.enum(['equal', 'held']).default('equal'),
  pair: PairBody.optional(),
  /** Whether the joined columns are given, and those of the pair; and whether all pairs are correlated. */
  columns: z.boolean().default(true),
  matrix: z.boolean().default(true),
});
export type ComparisonBody = z.infer<typeof ComparisonBody>;

const ToldPair = z.object({
  a: count,
  b: count,
  correlation: figures,
  usual: figure,
  spread: figures,
  beta: z.union([figure, figures]),
  z: figures,
  stretches: z.array(
    z.object({
      start: z.string(),
      end: z.string().nullable(),
      rows: count,
      side: z.enum(['above', 'below']),
      farthest: figure,
      after: figure,
      movedA: figure,
      movedB: figure,
      led: z.enum(['a', 'b']),
      cameBack: z.boolean().nullable(),
      backAfter: count.nullable(),
    }),
  ),
  halfLife: figure,
  cointegration: z.object({
    beta: figure,
    constant: figure,
    tau: figure,
    p: figure,
    lags: figure,
    rows: figure,
    critical: z.object({ one: figure, five: figure, ten: figure }),
  }),
  /** Rows on which both have a return. */
  common: count,
  /** Correlations of returns from b leading by the most lags to a leading by as many. */
  leads: figures,
});

const ToldMatrix = z.object({
  /** Places of the members in the order that was asked for. */
  order: z.array(count),
  /** By members as they were given, row by row; null of those that were refused. */
  values: z.array(figures),
  /** Of each with the others. */
  least: figures,
  mean: figures,
  greatest: figures,
});
export type ToldMatrix = z.infer<typeof ToldMatrix>;

export const ToldComparison = z.object({
  rule: z.string(),
  /** What one should know of how they were joined. */
  says: z.array(z.string()),
  /** Common rows. */
  count,
  time: z.array(z.string()).optional(),
  members: z.array(
    z.object({
      tape: z.string(),
      entry: z.string(),
      phrase: z.string(),
      /** Why it cannot be compared; the rest stands. */
      refused: z.string().optional(),
      /** Rows of its own that have a value, and values that were carried. */
      own: count,
      carried: count,
      values: figures.optional(),
    }),
  ),
  /** Average of all members, 100 where it begins. */
  average: figures.optional(),
  matrix: ToldMatrix.optional(),
  pair: ToldPair.optional(),
});
export type ToldComparison = z.infer<typeof ToldComparison>;

/** A matrix as it is told: what is missing is null. */
export function toldMatrix({ order, values, least, mean, greatest }: OrderedMatrix): ToldMatrix {
  const figures = (column: Float64Array) => Array.from(column, (r) => (Number.isNaN(r) ? null : r));
  const [a, b, c] = [least, mean, greatest].map(figures);
  return { order, values: values.map(figures), least: a, mean: b, greatest: c };
}

export const COMPARISON = work({
  path: '/api/comparisons',
  says: 'Several columns on common rows: their average, correlations of all pairs, and one pair in full.',
  body: ComparisonBody,
  answer: ToldComparison,
});
