import { z } from 'zod';
import { TapeName } from './tapes';

/** One line of the margin: a formula, and how it is drawn. */
export const LedgerEntry = z.strictObject({
  id: z.string().min(1).max(40),
  /** `name = formula`, as it is written. */
  text: z.string().max(2000),
  /** One of the eight inks, from 0. */
  ink: z.number().int().min(0).max(7),
  hidden: z.boolean().default(false),
});
export type LedgerEntry = z.infer<typeof LedgerEntry>;

/** One band of the chart. What a lane draws from the bars themselves is its `base`. */
export const LedgerLane = z.strictObject({
  id: z.string().min(1).max(40),
  base: z.enum(['price', 'volume', 'none']),
  /** Share of the height that the lanes have together. */
  weight: z.number().min(0.1).max(10),
  entries: z.array(LedgerEntry).max(100),
});
export type LedgerLane = z.infer<typeof LedgerLane>;

/** What a ledger says: all that is saved of it. */
export const LedgerBody = z.strictObject({
  tape: TapeName,
  rule: z.string().max(200),
  /** Whether flagged records are in the bars. */
  flagged: z.boolean().default(true),
  lanes: z.array(LedgerLane).min(1).max(20),
  /** First and last instant in view, RFC 3339; the whole span without. */
  view: z.strictObject({ from: z.string(), to: z.string() }).nullable(),
});
export type LedgerBody = z.infer<typeof LedgerBody>;

export const Ledger = z.strictObject({
  id: z.number().int(),
  title: z.string().min(1).max(120),
  version: z.number().int(),
  savedAt: z.string(),
  body: LedgerBody,
});
export type Ledger = z.infer<typeof Ledger>;

export const NewLedger = z.strictObject({ title: Ledger.shape.title, body: LedgerBody });
export type NewLedger = z.infer<typeof NewLedger>;

/** A change tells which version it was made on, so that two windows do not overwrite each other unseen. */
export const LedgerChange = NewLedger.extend({ version: z.number().int() });
export type LedgerChange = z.infer<typeof LedgerChange>;

/** The ledger that a tape opens with. */
export function firstLedger(tape: string, rule: string): NewLedger {
  return {
    title: `${tape}, first look`,
    body: {
      tape,
      rule,
      flagged: true,
      lanes: [
        { id: 'price', base: 'price', weight: 3, entries: [] },
        { id: 'volume', base: 'volume', weight: 1, entries: [] },
      ],
      view: null,
    },
  };
}
