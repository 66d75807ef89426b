import { z } from 'zod';
import { figure } from '../fields';
import { BarRuleText, TapeName } from '$lib/api/tapes';
import { UnitOfFigures } from '$lib/api/units';

export const MOST_ROLLED = 5000;
export const MOST_ROLLED_ENTRIES = 20;
/** Values that a spark has at most. */
export const SPARK_VALUES = 60;

/** The body of `POST /api/rolls`: one ledger over many tapes. */
export const RollBody = z.strictObject({
  /** All tapes without. */
  tapes: z.array(TapeName).max(MOST_ROLLED).optional(),
  bars: BarRuleText,
  entries: z.array(z.string().min(1).max(2000)).min(1).max(MOST_ROLLED_ENTRIES),
  flagged: z.boolean().optional(),
  /** Rows back that a change goes over. */
  back: z.number().int().min(1).max(1_000_000).default(1),
});
export type RollBody = z.infer<typeof RollBody>;

export const RollRow = z.object({
  tape: z.string(),
  /** The version of the tape that the row is of. */
  version: z.number().int(),
  rule: z.string(),
  /** Bars, and the start of the last one. */
  bars: z.number().int(),
  at: z.string().nullable(),
  /** Why it has no values. */
  refused: z.string().optional(),
  values: z.array(
    z.object({
      name: z.string(),
      unit: UnitOfFigures,
      /** The last value, the one so many rows before, and some on the way. */
      last: figure,
      before: figure,
      spark: z.array(figure),
    }),
  ),
});
export type RollRow = z.infer<typeof RollRow>;

export const ToldRoll = z.object({ rows: z.array(RollRow) });
export type ToldRoll = z.infer<typeof ToldRoll>;
