import { BarRuleText, CsvKind, instantText, RangeQuery, TapeName } from '$lib/api/tapes';
import { z } from 'zod';

/** The body of `POST /api/columns`. */
export const ColumnsBody = z.strictObject({
  tape: TapeName,
  bars: BarRuleText,
  entries: z.array(z.string()).min(1).max(100),
  /** Whether flagged records are in the bars; they are if it is not said. */
  flagged: z.boolean().optional(),
  from: instantText.optional(),
  to: instantText.optional(),
  /** The bars that entries are worked out from, as if the tape had no others. */
  alone: RangeQuery.optional(),
  /** Only rows on which every entry has a value. */
  complete: z.boolean().optional(),
  /** The columns to give, in their order, behind the time; all of them without. */
  columns: z.array(z.string()).max(500).optional(),
  /** The most rows that are of use to whoever asks; more are refused before they are worked out. */
  most: z.number().int().min(1).optional(),
  csv: CsvKind,
});
export type ColumnsBody = z.infer<typeof ColumnsBody>;
