import { z } from 'zod';
import { CheckFinding, TreatmentChoices } from '@jaunty-ledger/files/checks/checks';
import { Reading, ReadingChoices, TapeKind } from '@jaunty-ledger/files/reading/reading';
import {
  ArgumentError,
  BarRuleError,
  makeCalendar,
  parseBarRule,
  PRECISIONS,
  type CalendarOptions,
  type Precision,
} from '@jaunty-ledger/core';

/** Names stand in formulas (`SALT.close`) and in addresses, so they are plain words. */
export const TapeName = z
  .string()
  .regex(/^[A-Za-z][A-Za-z0-9_]{0,39}$/, 'must start with a letter and hold only letters, digits and _, 40 at most');

const list = z.string().transform((text) =>
  text
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean),
);
const flag = z.enum(['true', 'false', 'yes', 'no']).transform((text) => text === 'true' || text === 'yes');

const calendarFields = {
  zone: z.string().optional(),
  session: z.string().optional(),
  weekdays: list.optional(),
  closed: list.optional(),
  closeIncluded: flag.optional(),
};

/** Tells of a calendar or an interval that cannot be, field by field. */
export function checkCalendar(
  query: { zone?: string; session?: string | null; interval?: string },
  context: z.RefinementCtx,
): void {
  const trial = (field: string, read: () => unknown) => {
    try {
      read();
    } catch (error) {
      if (!(error instanceof ArgumentError || error instanceof BarRuleError)) throw error;
      const path = error instanceof ArgumentError ? error.argument : field;
      context.addIssue({ code: 'custom', path: [path], message: error.message });
    }
  };
  trial('zone', () => makeCalendar(calendarOptions({ ...query, zone: query.zone ?? 'UTC' })));
  trial('interval', () => query.interval && parseBarRule(query.interval));
}

/** What a bar is where several rows of single values share a time: one for each of them, or one of all. */
export const SharedTimes = z.enum(['record', 'last', 'first', 'sum', 'mean']);
export type SharedTimes = z.infer<typeof SharedTimes>;

/** The query of `POST /api/tapes`: where the records belong, how the file is read, what becomes of what checks find. */
export const ImportQuery = z
  .strictObject({
    name: TapeName,
    ...calendarFields,
    ...ReadingChoices.shape,
    checks: TreatmentChoices.optional(),
    /** A reading that was kept under a name; choices beside it go before it. */
    profile: z.string().max(60).optional(),
    /** Length of the records of a tape of bars, such as `1 minute`; found out where it is not told. */
    interval: z.string().optional(),
    unit: z.string().max(40).optional(),
    sharedTimes: SharedTimes.optional(),
    /** A calendar that is kept, in the place of a zone and hours. */
    calendar: z.string().max(60).optional(),
    /** Whether what goes by the name of a tape that is there is added to it. */
    join: flag.optional(),
    /** Name of the file, kept with the tape. */
    file: z.string().max(255).optional(),
  })
  .superRefine(checkCalendar);
export type ImportQuery = z.infer<typeof ImportQuery>;

/** The query of `POST /api/tapes/NAME/append`: the name and the calendar are the tape's. */
export const AppendQuery = z
  .strictObject({
    ...ReadingChoices.shape,
    checks: TreatmentChoices.optional(),
    profile: z.string().max(60).optional(),
    interval: z.string().optional(),
    file: z.string().max(255).optional(),
  })
  .superRefine(checkCalendar);

const Tag = z
  .string()
  .trim()
  .min(1)
  .max(30)
  .regex(/^[^,]+$/, 'must be without commas');

/** What can be changed of a tape afterwards. */
export const TapeChange = z
  .strictObject({
    name: TapeName.optional(),
    zone: z.string().optional(),
    session: z.string().nullable().optional(),
    weekdays: z.array(z.string()).nullable().optional(),
    closed: z.array(z.string()).nullable().optional(),
    closeIncluded: z.boolean().optional(),
    unit: z.string().max(40).optional(),
    priceDecimals: z.number().int().min(0).max(9).optional(),
    note: z.string().max(500).optional(),
    sharedTimes: SharedTimes.nullable().optional(),
    /** A calendar that is kept, whose zone and hours it goes by from now on; null for hours of its own. */
    calendar: z.string().max(60).nullable().optional(),
    /** Words that it is found by. */
    tags: z.array(Tag).max(20).optional(),
    /** Some more of those, beside the ones that it has. */
    addTags: z.array(Tag).max(20).optional(),
  })
  .superRefine((change, context) => checkCalendar({ ...change, interval: undefined }, context));
export type TapeChange = z.infer<typeof TapeChange>;

/** Zone, hours and days, as tapes, calendars and queries tell them. */
export interface Hours {
  zone: string;
  session?: string | null;
  weekdays?: string[] | null;
  closed?: string[] | null;
  closeIncluded?: boolean | null;
  precision?: Precision;
}

export function calendarOptions(tape: Hours): CalendarOptions {
  return {
    zone: tape.zone,
    session: tape.session ?? undefined,
    weekdays: tape.weekdays ?? undefined,
    closed: tape.closed ?? undefined,
    closeIncluded: tape.closeIncluded ?? undefined,
    ...(tape.precision === 'period' && { undated: true }),
  };
}

/** What came of an import, kept with the tape: where its records come from, and what was found in them. */
export const IntakeReport = z.object({
  file: z.string(),
  bytes: z.number().int(),
  sha256: z.string(),
  lines: z.number().int(),
  reading: Reading.nullable(),
  findings: z.array(CheckFinding),
  leftOutCount: z.number().int(),
  /** Weekdays that are closed since the file has no records on them. */
  closedWeekdays: z.array(z.string()).optional(),
  enteredAt: z.string(),
});
export type IntakeReport = z.infer<typeof IntakeReport>;

/** What the calendar of a tape flags that was changed after the import. */
export const CalendarCheck = z.object({
  at: z.string(),
  outside: z.number().int(),
  closedDate: z.number().int(),
});
export type CalendarCheck = z.infer<typeof CalendarCheck>;

export const Tape = z.object({
  name: z.string(),
  kind: TapeKind,
  zone: z.string(),
  session: z.string().nullable(),
  weekdays: z.array(z.string()).nullable(),
  closed: z.array(z.string()).nullable(),
  closeIncluded: z.boolean(),
  /** The kept calendar whose hours these are; null where they are its own. */
  calendar: z.string().nullable(),
  tags: z.array(z.string()),
  /** Length of each record of a tape of bars, as a bar rule. */
  interval: z.string().nullable(),
  rows: z.number().int(),
  /** Records with a flag. */
  flagged: z.number().int(),
  /** Records outside its session and on closed dates, by the calendar of now. */
  outside: z.number().int(),
  /** RFC 3339, UTC. */
  from: z.string(),
  to: z.string(),
  /** Columns of its records, as they are answered. */
  columns: z.array(z.string()),
  /** Those of them that hold words: what the file calls them, and how many different words there are. */
  texts: z.array(z.object({ name: z.string(), title: z.string(), words: z.number().int() })),
  /** Further columns of numbers, which formulas know: what the file calls them. */
  numbers: z.array(z.object({ name: z.string(), title: z.string() })),
  /** What formulas and pages call the values of a tape of single values, by its file; null where they have no name. */
  valueName: z.string().nullable(),
  /** What the bars are that it opens with, where rows share a time; null where none do. */
  sharedTimes: SharedTimes.nullable(),
  /** How exactly the times of its records are told. */
  precision: z.enum(PRECISIONS),
  priceDecimals: z.number().int(),
  /** Last prices of up to 60 stretches of the tape, for a small picture. */
  spark: z.array(z.number()),
  /** Rises with every change of the records. */
  version: z.number().int(),
  note: z.string(),
  /** What prices are in, for display. */
  unit: z.string(),
});
export type Tape = z.infer<typeof Tape>;

/** Columns of a tape by the names that formulas know beside those of bars: its values by their own name, and the turnover. */
export function aliasesOf({ kind, columns, valueName, numbers, texts = [] }: AliasSource): Map<string, string> {
  const hasSizes = ['size', 'volume', 'value'].some((name) => columns.includes(name));
  const aliases = new Map([kind === 'series' && !hasSizes ? ['value', 'close'] : ['turnover', 'value']]);
  if (valueName) aliases.set(valueName, 'close');
  // what the file has under such a name stays what it is
  for (const { name } of [...numbers, ...texts]) aliases.delete(name);
  return aliases;
}

interface AliasSource extends Pick<Tape, 'kind'> {
  columns: readonly string[];
  numbers: readonly { name: string }[];
  texts?: readonly { name: string }[];
  valueName?: string | null;
}

/** A tape with what is told of its files, which lists leave out. */
export const TapeDetails = Tape.extend({
  report: IntakeReport,
  /** Reports of files that were appended later. */
  appended: z.array(IntakeReport),
  /** Null while the calendar is the one of the import. */
  calendarCheck: CalendarCheck.nullable(),
});
export type TapeDetails = z.infer<typeof TapeDetails>;

/** An instant that somebody asks for or keeps. */
export const instantText = z
  .string()
  .max(40)
  .refine((text) => !Number.isNaN(Date.parse(text)), 'must be a time such as 2026-02-02T08:30:00Z');

export const RangeQuery = z.strictObject({ from: instantText.optional(), to: instantText.optional() });

/** `spreadsheet`: words that a spreadsheet would take for a formula get an apostrophe before them. */
export const CsvKind = z.enum(['plain', 'spreadsheet']).optional();

/** A rule of bars as it is typed; further columns make it long. */
export const BarRuleText = z.string().max(2000);

/** The query of `GET /api/tapes/NAME/bars`. */
export const BarQuery = RangeQuery.extend({ rule: BarRuleText, flagged: flag.optional(), csv: CsvKind });

/** The query of `GET /api/tapes/NAME/records`. */
export const RecordQuery = RangeQuery.extend({
  limit: z.coerce.number().int().min(1).max(100_000).default(1000),
  /** Row to begin with, from 0; instead of `from`. */
  offset: z.coerce.number().int().min(0).optional(),
  /** Only those with a flag, or with one of another kind than that they lie outside the session; or, of a bar, none of them. */
  flagged: z.enum(['only', 'in-session', 'no']).optional(),
  /** Those that one bar of a rule is made of: its row, from 0, among all bars of the tape. */
  bar: z.coerce.number().int().min(0).optional(),
  rule: BarRuleText.optional(),
  csv: CsvKind,
}).refine(({ bar, rule }) => (bar === undefined) === (rule === undefined), '`bar` and `rule` go together');

/** What `POST /api/tapes` answers where a file makes several tapes. */
export const EnteredTapes = z.object({ tapes: z.array(TapeDetails) });

/** How far an import has come; null once it has ended. */
export const ImportProgress = z.object({ bytes: z.number(), rows: z.number(), startedAt: z.number() }).nullable();
export type ImportProgress = z.infer<typeof ImportProgress>;
