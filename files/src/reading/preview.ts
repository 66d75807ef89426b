import { PRECISIONS } from '@jaunty-ledger/core';
import { z } from 'zod';
import { CheckFinding } from '../checks/checks.js';
import { Reading } from './reading.js';

/** A row as it stands, and as it is read; `reason` says why it is left out. */
export const PreviewRow = z.object({
  line: z.number().int(),
  cells: z.array(z.string()),
  read: z.array(z.string()).nullable(),
  reason: z.string(),
});
export type PreviewRow = z.infer<typeof PreviewRow>;

/** Records that a session would hide: on weekdays that are closed, from Monday on, and at hours of days that are open. */
export const HiddenRows = z.object({
  /** All that were looked at. */
  rows: z.number().int(),
  hidden: z.number().int(),
  days: z.array(z.number().int()).length(7),
  hours: z.array(z.number().int()).length(24),
});
export type HiddenRows = z.infer<typeof HiddenRows>;

/** What a file would come to, read so. */
export const ReadingPreview = z.object({
  reading: Reading,
  names: z.array(z.string()),
  columns: z.array(z.string()),
  /** What files that are read alike have in common; a reading is kept for it. */
  shape: z.string(),
  /** Tapes that it would make, where they are several, and what the sample holds of each. */
  tapes: z.array(
    z.object({
      name: z.string(),
      rows: z.number().int(),
      /** Its first and last record: the time as it is told, and the price. */
      first: z.tuple([z.string(), z.string()]),
      last: z.tuple([z.string(), z.string()]),
      spark: z.array(z.number()),
    }),
  ),
  first: z.array(PreviewRow),
  last: z.array(PreviewRow),
  /** Of the sample alone. */
  findings: z.array(CheckFinding),
  sampleRows: z.number().int(),
  /** Choices that the sample leaves open. */
  open: z.array(z.string()),
  /** A figure that could have decimals or thousands, where `decimal` is open. */
  figure: z.string().optional(),
  /** Hours and weekdays that all rows keep to, where these are all rows of the file, as a guess at a session. */
  session: z.object({ session: z.string(), weekdays: z.array(z.string()) }).nullable(),
  /** What the session, weekdays and closed dates that were told would hide; null where none were told. */
  hidden: HiddenRows.nullable(),
  /** Whether the times tell their offsets from UTC, so that no zone need be known to read them. */
  hasOffsets: z.boolean(),
  /** How exactly the times are told. */
  precision: z.enum(PRECISIONS),
  /** All sheets of a spreadsheet. */
  sheets: z.array(z.string()),
  /** The kept reading that fits files of this shape. */
  profile: z.string().nullable(),
  /** Why no record can be made, if none can. */
  problem: z.string().nullable(),
});
export type ReadingPreview = z.infer<typeof ReadingPreview>;
