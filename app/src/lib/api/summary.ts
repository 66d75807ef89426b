import { z } from 'zod';

const figure = z.number().nullable();

export const ColumnSummary = z.object({
  name: z.string(),
  count: z.number().int(),
  missing: z.number().int(),
  mean: figure,
  stdev: figure,
  min: figure,
  q1: figure,
  median: figure,
  q3: figure,
  max: figure,
});
export type ColumnSummary = z.infer<typeof ColumnSummary>;

/** What `GET /api/tapes/NAME/summary` tells. */
export const TapeSummary = z.object({
  /** Between one record and the next, at the middle; null for a single record. */
  usualGapSeconds: figure,
  columns: z.array(ColumnSummary),
  words: z.array(
    z.object({ name: z.string(), words: z.array(z.object({ word: z.string(), count: z.number().int() })) }),
  ),
  /** Records of each hour of the market's clock, from midnight; none where they have no time of day. */
  hours: z.array(z.number().int()).max(24),
  /** Hours and weekdays that all records keep to, as a guess at a session; null where the tape has one, or there is none. */
  session: z.object({ session: z.string(), weekdays: z.array(z.string()) }).nullable(),
});
export type TapeSummary = z.infer<typeof TapeSummary>;
