import { BarRuleError, parseBarRule } from '@jaunty-ledger/core';
import { z } from 'zod';
import { othersOfNew } from './people';
import { BarRuleText, instantText, TapeName } from './tapes';

/** How the values of an entry are drawn. */
export const ENTRY_SHAPES = ['line', 'steps', 'dots', 'columns', 'area'] as const;
/** How the bars themselves are drawn. */
export const BAR_SHAPES = ['candles', 'line', 'steps', 'dots'] as const;
/** `above`: that of the lane above, which both then share. */
export const LANE_SCALES = ['fit', 'zero', 'fixed', 'log', 'percent', 'above'] as const;

/** One line of the margin: a formula, and how it is drawn. */
export const LedgerEntry = z.strictObject({
  id: z.string().min(1).max(40),
  /** A few words beside its name. */
  label: z.string().max(40).default(''),
  /** `name = formula`, as it is written. */
  text: z.string().max(2000),
  /** One of the eight inks, from 0. */
  ink: z.number().int().min(0).max(7),
  hidden: z.boolean().default(false),
  drawn: z.enum(ENTRY_SHAPES).default('line'),
  /** One of the eight line patterns, from 0; that of its ink without. */
  dash: z.number().int().min(0).max(7).nullable().default(null),
  /** Width of the line in pixels. */
  width: z.number().min(0.5).max(6).default(1.7),
  /** Rows that the line is drawn later, or earlier where below 0. */
  shift: z.number().int().min(-1000).max(1000).default(0),
  /** Whether it has the second scale of its lane, for values of another magnitude. */
  second: z.boolean().default(false),
});
export type LedgerEntry = z.infer<typeof LedgerEntry>;

/** One band of the chart. What a lane draws from the bars themselves is its `base`. */
export const LedgerLane = z.strictObject({
  id: z.string().min(1).max(40),
  base: z.enum(['price', 'volume', 'none']),
  /** Share of the height that the lanes have together. */
  weight: z.number().min(0.1).max(10),
  /** How prices are drawn, in the lane that has them. */
  bars: z.enum(BAR_SHAPES).default('candles'),
  scale: z.enum(LANE_SCALES).default('fit'),
  /** Ends of a fixed scale. */
  low: z.number().nullable().default(null),
  high: z.number().nullable().default(null),
  /** Places of its figures; those of the tape without. */
  decimals: z.number().int().min(0).max(9).nullable().default(null),
  /** Written before its figures, such as a currency. */
  prefix: z.string().max(8).default(''),
  /** Written after its figures, such as what they are counted in. */
  unit: z.string().max(8).default(''),
  collapsed: z.boolean().default(false),
  entries: z.array(LedgerEntry).max(100),
});
export type LedgerLane = z.infer<typeof LedgerLane>;

/** A few words pinned to an instant. */
export const LedgerNote = z.strictObject({ id: z.string().min(1).max(40), at: z.string(), text: z.string().max(500) });
export type LedgerNote = z.infer<typeof LedgerNote>;

/** Formulas that are watched, and what has become true of them. */
const MOST_WATCHED = 20;
export const MOST_EVENTS = 200;
/** A watched formula that has become true: when it was seen, at which bar, and what it says. */
export const LedgerEvent = z.strictObject({ at: z.string(), bar: z.string(), says: z.string().max(2100) });
export type LedgerEvent = z.infer<typeof LedgerEvent>;

/** What a ledger says: all that is saved of it. */
export const LedgerBody = z.strictObject({
  tape: TapeName,
  rule: BarRuleText,
  /** Whether flagged records are in the bars. */
  flagged: z.boolean().default(true),
  lanes: z.array(LedgerLane).min(1).max(20),
  /** First and last instant in view, RFC 3339, or all bars; the last bars that fit a page without. */
  view: z.union([z.literal('all'), z.strictObject({ from: z.string(), to: z.string() })]).nullable(),
  /** The bars that entries are worked out from, as if the tape had no others; open where an end is null. */
  alone: z.strictObject({ from: z.string().nullable(), to: z.string().nullable() }).nullable().default(null),
  notes: z.array(LedgerNote).max(500).default([]),
  /** Whether bars stand side by side, or in true time with the nights and weekends between them. */
  axis: z.enum(['bars', 'time']).default('bars'),
  /** Whether rows before the first complete one are left out of view. */
  trimmed: z.boolean().default(false),
  /** Columns of the table of rows, in their order; all that say something without. */
  columns: z.array(z.string().max(2100)).max(500).nullable().default(null),
  /** Formulas that one is told of when they become true, as the tape is fed; and what has been told, the last first. */
  watched: z.array(z.string().max(2000)).max(MOST_WATCHED).default([]),
  events: z.array(LedgerEvent).max(MOST_EVENTS).default([]),
});
export type LedgerBody = z.infer<typeof LedgerBody>;

/** The ends of what is in view; nothing where that is all bars, or was not chosen. */
export const stretchInView = ({ view }: Pick<LedgerBody, 'view'>) => (view === 'all' ? null : view);

export const Ledger = z.strictObject({
  id: z.number().int(),
  title: z.string().min(1).max(120),
  version: z.number().int(),
  savedAt: z.string(),
  body: LedgerBody,
});
export type Ledger = z.infer<typeof Ledger>;

/** What comes in: its bars are ones that there are, its times are times. */
const NewBody = LedgerBody.extend({
  view: z.union([z.literal('all'), z.strictObject({ from: instantText, to: instantText })]).nullable(),
  alone: z.strictObject({ from: instantText.nullable(), to: instantText.nullable() }).nullable().default(null),
  notes: z
    .array(LedgerNote.extend({ at: instantText }))
    .max(500)
    .default([]),
  rule: LedgerBody.shape.rule.superRefine((text, context) => {
    try {
      parseBarRule(text);
    } catch (error) {
      if (!(error instanceof BarRuleError)) throw error;
      context.addIssue({ code: 'custom', message: error.message });
    }
  }),
});

export const NewLedger = z.strictObject({ title: Ledger.shape.title, body: NewBody });
export type NewLedger = z.infer<typeof NewLedger>;
/** The body of `POST /api/ledgers`. */
export const LedgerToMake = NewLedger.extend({ others: othersOfNew });

/** The query of `DELETE /api/ledgers/ID`: nothing is taken away that was changed since it was looked at. */
export const LedgerVersion = z.strictObject({ version: z.coerce.number().int() });

/** A change tells which version it was made on, so that two windows do not overwrite each other unseen. */
export const LedgerChange = NewLedger.extend({ version: z.number().int() });
export type LedgerChange = z.infer<typeof LedgerChange>;

export const newLane = (id: string, base: LedgerLane['base'], weight: number): LedgerLane =>
  LedgerLane.parse({ id, base, weight, entries: [] });

export const newEntry = (id: string, text: string, ink: number): LedgerEntry => LedgerEntry.parse({ id, text, ink });

/** A ledger as one file, to hand over and to take in again. */
export const LedgerFile = z.strictObject({
  format: z.literal('jaunty-ledger/1'),
  title: Ledger.shape.title,
  body: NewBody,
});
export type LedgerFile = z.infer<typeof LedgerFile>;

/** The ledger that a tape opens with. */
export function firstLedger(tape: string, rule: string): NewLedger {
  return {
    title: `${tape}, first look`,
    body: {
      tape,
      rule,
      flagged: true,
      lanes: [newLane('price', 'price', 3), newLane('volume', 'volume', 1)],
      view: null,
      alone: null,
      notes: [],
      axis: 'bars',
      trimmed: false,
      columns: null,
      watched: [],
      events: [],
    },
  };
}
