import { z } from 'zod';
import { BarRuleText, RangeQuery, TapeName } from '$lib/api/tapes';

/** A figure of an answer; null where it is missing, since JSON has no NaN. */
export const figure = z.number().nullable();
export const figures = z.array(figure);
export const count = z.number().int();

/** What a question about one column of bars says. */
export const columnFields = {
  tape: TapeName,
  bars: BarRuleText,
  /** The formula of the column. */
  entry: z.string().max(2000).default('close'),
  /** Further entries that it uses. */
  entries: z.array(z.string()).max(100).default([]),
  /** Whether flagged records are in the bars; they are if it is not given. */
  flagged: z.boolean().optional(),
  /** The bars that it is computed on; all of them if it is not given. */
  stretch: RangeQuery.optional(),
};
