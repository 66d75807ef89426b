import { z } from 'zod';
import { ArgumentError, BarRuleError, makeCalendar, parseBarRule, type CalendarOptions } from '@jaunty-ledger/core';

/** Names stand in formulas (`SALT.close`) and in addresses, so they are plain words. */
export const TapeName = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,39}$/, 'must start with a letter and hold only letters, digits and _, 40 at most');

export const TapeKind = z.enum(['ticks', 'bars']);
export type TapeKind = z.infer<typeof TapeKind>;

const list = z.string().transform((text) =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean),
);
const flag = z.enum(['true', 'false', 'yes', 'no']).transform((text) => text === 'true' || text === 'yes');

/** The query of `POST /api/tapes`. */
export const ImportQuery = z
  .strictObject({
    name: TapeName,
    kind: TapeKind.default('ticks'),
    zone: z.string().default('UTC'),
    session: z.string().optional(),
    weekdays: list.optional(),
    closed: list.optional(),
    closeIncluded: flag.optional(),
    /** What becomes of lines that cannot be read: the whole file is refused, or they are left out and reported. */
    unreadable: z.enum(['refuse', 'leave-out']).default('refuse'),
    /** Length of the records of a tape of bars, such as `1 minute`; found out where it is not told. */
    interval: z.string().optional(),
    /** Name of the file, kept with the tape. */
    file: z.string().max(255).optional(),
  })
  .superRefine((query, context) => {
    const trial = (field: string, read: () => unknown) => {
      try {
        read();
      } catch (error) {
        if (!(error instanceof ArgumentError || error instanceof BarRuleError)) throw error;
        const path = error instanceof ArgumentError ? error.argument : field;
        context.addIssue({ code: 'custom', path: [path], message: error.message });
      }
    };
    trial('zone', () => makeCalendar(calendarOptions(query)));
    trial('interval', () => query.interval && parseBarRule(query.interval));
  });
export type ImportQuery = z.infer<typeof ImportQuery>;

export function calendarOptions(tape: {
  zone: string;
  session?: string | null;
  weekdays?: string[] | null;
  closed?: string[] | null;
  closeIncluded?: boolean | null;
}): CalendarOptions {
  return {
    zone: tape.zone,
    session: tape.session ?? undefined,
    weekdays: tape.weekdays ?? undefined,
    closed: tape.closed ?? undefined,
    closeIncluded: tape.closeIncluded ?? undefined,
  };
}

/** A line that was not read, counted from 1, and why. */
export const RejectedLine = z.object({ line: z.number().int(), reason: z.string() });
export type RejectedLine = z.infer<typeof RejectedLine>;

/** What came of an import. */
export const IntakeReport = z.object({
  file: z.string(),
  bytes: z.number().int(),
  sha256: z.string(),
  lines: z.number().int(),
  rows: z.number().int(),
  columns: z.array(z.string()),
  rejectedCount: z.number().int(),
  /** The first of them. */
  rejected: z.array(RejectedLine),
  /** Records that stood behind a later one; they were sorted by time, those of one instant as they came. */
  outOfOrder: z.number().int(),
  /** Local times that occur twice in the zone; the earlier was taken. */
  repeatedTimes: z.number().int(),
  enteredAt: z.string(),
});
export type IntakeReport = z.infer<typeof IntakeReport>;

export const Tape = z.object({
  name: z.string(),
  kind: TapeKind,
  zone: z.string(),
  session: z.string().nullable(),
  weekdays: z.array(z.string()).nullable(),
  closed: z.array(z.string()).nullable(),
  closeIncluded: z.boolean(),
  /** Length of each record of a tape of bars, as a bar rule. */
  interval: z.string().nullable(),
  rows: z.number().int(),
  /** RFC 3339, UTC. */
  from: z.string(),
  to: z.string(),
  columns: z.array(z.string()),
  priceDecimals: z.number().int(),
  /** Last prices of up to 60 stretches of the tape, for a small picture. */
  spark: z.array(z.number()),
  /** Rises with every change of the records. */
  version: z.number().int(),
  note: z.string(),
  report: IntakeReport,
});
export type Tape = z.infer<typeof Tape>;

const instantText = z
  .string()
  .refine((text) => !Number.isNaN(Date.parse(text)), 'must be a time such as 2026-02-02T08:30:00Z');

export const RangeQuery = z.strictObject({ from: instantText.optional(), to: instantText.optional() });

/** The query of `GET /api/tapes/NAME/bars`. */
export const BarQuery = RangeQuery.extend({ rule: z.string() });

/** The query of `GET /api/tapes/NAME/records`. */
export const RecordQuery = RangeQuery.extend({ limit: z.coerce.number().int().min(1).max(100_000).default(1000) });

/** The body of `POST /api/columns`. */
export const ColumnsBody = z.strictObject({
  tape: TapeName,
  bars: z.string(),
  entries: z.array(z.string()).min(1).max(100),
  from: instantText.optional(),
  to: instantText.optional(),
});
export type ColumnsBody = z.infer<typeof ColumnsBody>;
