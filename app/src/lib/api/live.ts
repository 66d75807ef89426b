import { z } from 'zod';

/* What goes on while a tape is fed: lines of the feed's answer, and what followers are told. */

const Figures = z.array(z.number().nullable());

/** Rows of a tape that is followed, from the first that is other than before. */
export const FollowedRows = z.object({
  /** Of the tape; a follower that comes back tells the last one it has had. */
  version: z.int(),
  /** How many bars there are, how many records, and which row the first one told is. */
  rows: z.int(),
  records: z.int(),
  first: z.int(),
  /** There are too many rows to be told; ask for the bars as a table. */
  tooMany: z.literal(true).optional(),
  /** A column each; times as RFC 3339. `complete` is 0 for the bar that is open. */
  bars: z
    .object({
      ...{ time: z.array(z.string()), end: z.array(z.string()) },
      ...{ open: Figures, high: Figures, low: Figures, close: Figures },
      ...{ volume: Figures, value: Figures, vwap: Figures, trades: Figures, complete: z.array(z.int()) },
    })
    .optional(),
  texts: z.record(z.string(), Figures).optional(),
  numbers: z.record(z.string(), Figures).optional(),
  entries: z.record(z.string(), Figures).optional(),
  /** Why the entries have no values on these rows. */
  trouble: z.string().optional(),
});
export type FollowedRows = z.infer<typeof FollowedRows>;

/** A line of the answer to a feed. */
export const FeedLine = z.union([
  /** The first: how far this sender had come before, -1 for nowhere. */
  z.object({ feeding: z.string(), sequence: z.number().nullable() }),
  /** Records that are safe, since the line of this kind before. */
  z.object({
    safe: z.int(),
    repeated: z.int(),
    sequence: z.number().nullable(),
    late: z.object({ records: z.int(), from: z.string() }).optional(),
  }),
  /** A line that is no record. */
  z.object({ refused: z.int(), says: z.string() }),
  /** The last: what came in all. */
  z.object({ ended: z.object({ records: z.int(), repeated: z.int(), refused: z.int() }) }),
  z.object({ problem: z.object({ code: z.string(), detail: z.string() }).loose() }),
]);
export type FeedLine = z.infer<typeof FeedLine>;

const Sender = z
  .string()
  .regex(/^[\w.-]{1,60}$/, 'has 1 to 60 letters, figures, dots, dashes or underscores')
  .meta({ description: 'Who sends: records of a sender whose `seq` is not above its last one are not entered again.' });

export const FeedQuery = z.strictObject({ sender: Sender.optional(), format: z.enum(['json', 'csv']).optional() });
export type FeedQuery = z.infer<typeof FeedQuery>;

export const SenderQuery = z.strictObject({ sender: Sender });

export const FollowQuery = z.strictObject({
  rule: z.string().max(200),
  entries: z.string().max(20_000).optional().meta({ description: 'Formulas, one a line.' }),
  flagged: z.stringbool().optional(),
  version: z.coerce
    .number()
    .int()
    .min(0)
    .optional()
    .meta({ description: 'Version of the tape whose bars the follower has; without, it is told the open bar first.' }),
});

export const VersionsQuery = z.strictObject({
  tapes: z.string().max(20_000).meta({ description: 'Names of tapes, with commas between them.' }),
});
export const Versions = z.record(z.string(), z.int());
