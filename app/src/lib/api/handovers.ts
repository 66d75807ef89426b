import { PRECISIONS, type LineRole } from '@jaunty-ledger/core';
import { z } from 'zod';
import { Ledger } from './ledgers';
import { BarRuleText, CsvKind, instantText, TapeName } from './tapes';
import { UnitOfFigures } from './units';

/* A page to hand over: blocks in one column. Each block holds the figures that it shows, so that the page is the same in a year. */

const MOST_BLOCKS = 100;
/** Rows that a chart keeps; of more it keeps the least and the greatest of each few. */
export const MOST_KEPT_ROWS = 1200;
const MOST_LINES = 24;

const words = (most: number) => z.string().max(most).default('');
const end = z.union([z.literal(''), instantText]).default('');
const Cell = z.union([z.string().max(500), z.number(), z.null()]);
export type Cell = z.infer<typeof Cell>;

/** What a block asks of the records: bars of a tape, with a column for each entry. */
export const Setting = z.strictObject({
  tape: TapeName,
  bars: BarRuleText,
  flagged: z.boolean().default(true),
  entries: z.array(z.string().min(1).max(2000)).max(90).default([]),
  from: end,
  to: end,
  /** The bars that entries are worked out from, as if the tape had no others. */
  alone: z.strictObject({ from: end, to: end }).nullable().default(null),
});
export type Setting = z.infer<typeof Setting>;

const ROLES = [
  'average',
  'upper',
  'lower',
  'volatility',
  'memory',
  'projection',
  'other',
] as const satisfies readonly LineRole[];

/** What is known of a column without its values, as `POST /api/columns` tells it. */
export const LineFacts = z.object({
  name: z.string(),
  unit: UnitOfFigures,
  phrase: z.string(),
  looksAhead: z.boolean(),
  role: z.enum(ROLES),
  lag: z.number().nullable(),
});
export type LineFacts = z.infer<typeof LineFacts>;

/** Where figures come from: told under each block. */
export const Origin = z.strictObject({
  tape: z.string(),
  bars: z.string(),
  version: z.number().int(),
  /** The files that the records were entered from, and the checksum of the last; empty of what was made here. */
  file: z.string(),
  sha256: z.string(),
  /** What prices are counted in, and with how many places. */
  unit: z.string(),
  decimals: z.number().int(),
  zone: z.string(),
  precision: z.enum(PRECISIONS),
  /** First and last bar of what is kept, and how many there were. */
  from: z.string(),
  to: z.string(),
  rows: z.number().int(),
  /** When the figures were taken. */
  at: z.string(),
});
export type Origin = z.infer<typeof Origin>;

/** Columns as they were taken: `time`, those of the bars, and those of the entries. */
export const Kept = z.strictObject({
  origin: Origin,
  /** How many rows were put together into each two that are kept; 1 where all are there. */
  each: z.number().int().min(1).default(1),
  time: z.array(z.string()).max(MOST_KEPT_ROWS),
  columns: z.record(z.string(), z.array(z.number().nullable())),
  facts: z.array(LineFacts),
  /** The formulas of the entries, by the names of their columns. */
  formulas: z.record(z.string(), z.string()),
  /** Rows of the stretch that an entry is short of at its beginning. */
  short: z.record(z.string(), z.number().int()),
});
export type Kept = z.infer<typeof Kept>;

/** Figures of a table as they were taken; each column has a unit, by which its figures are written. */
export const ToldTable = z.strictObject({
  origin: Origin,
  head: z.array(z.string()),
  units: z.array(UnitOfFigures.nullable()),
  /** Units of columns that stand in rows, by their names. */
  facts: z.record(z.string(), UnitOfFigures),
  /** What they are in words, where they are entries. */
  phrases: z.record(z.string(), z.string()).default({}),
  rows: z.array(z.array(Cell)),
});
export type ToldTable = z.infer<typeof ToldTable>;

/** The last value of a column and rows before it, for whoever takes their mean: its own, or those that it is the mean of. */
export const ToldCheck = z.strictObject({
  origin: Origin,
  phrase: z.string(),
  unit: UnitOfFigures,
  value: z.number().nullable(),
  /** The column that the rows are of. */
  of: z.string(),
  time: z.array(z.string()),
  values: z.array(z.number().nullable()),
});
export type ToldCheck = z.infer<typeof ToldCheck>;

/** A line of a chart: which column, how it is called, and how it is drawn. */
export const ChartLine = z.strictObject({
  column: z.string().max(2100),
  label: words(120),
  as: z.enum(['strong', 'plain', 'pale', 'columns', 'out']).default('plain'),
  ink: z.number().int().min(0).max(7),
});
export type ChartLine = z.infer<typeof ChartLine>;

export const SCALES = ['fit', 'zero', 'log', 'rebased'] as const;
export const Panel = z.strictObject({
  lines: z.array(ChartLine).max(MOST_LINES),
  scale: z.enum(SCALES).default('fit'),
  /** Written behind the figures at the right; the tape's own where it is empty. */
  unit: words(16),
  /** Written before the figures, such as a currency. */
  prefix: words(8),
});
export type Panel = z.infer<typeof Panel>;

const id = z.string().min(1).max(40);
/** Whether figures are taken anew with the next issue of the page, or stay. */
const follows = z.boolean().default(true);

export const Figure = z.strictObject({
  /** As it stands within the braces. */
  says: z.string().max(300),
  text: z.string().max(80),
  /** Why there is none; empty where there is one. */
  problem: words(300),
});
export type Figure = z.infer<typeof Figure>;

export const Paragraph = z.strictObject({
  id,
  kind: z.literal('paragraph'),
  text: z.string().max(8000),
  setting: Setting.nullable().default(null),
  /** Whether it is as it was drafted: it is drafted anew with new figures. */
  isDrafted: z.boolean().default(false),
  follows,
  figures: z.array(Figure).max(200).default([]),
  origin: Origin.nullable().default(null),
});
export type Paragraph = z.infer<typeof Paragraph>;
export const Chart = z.strictObject({
  id,
  kind: z.literal('chart'),
  title: words(200),
  setting: Setting,
  panels: z.array(Panel).min(1).max(8),
  /** Whether all panels of prices go from the same least to the same greatest value. */
  oneScale: z.boolean().default(false),
  follows,
  kept: Kept.nullable().default(null),
});
export type Chart = z.infer<typeof Chart>;
/** Where each column stands: now, some rows ago, and its least and greatest value. */
export const Table = z.strictObject({
  id,
  kind: z.literal('table'),
  title: words(200),
  setting: Setting,
  shows: z.enum(['standing', 'rows']).default('standing'),
  /** Rows ago that are told, or last rows that are shown. */
  count: z.number().int().min(1).max(200).default(5),
  /** Columns that are shown; those of the entries and the close without. */
  columns: z.array(z.string().max(2100)).max(20).default([]),
  follows,
  told: ToldTable.nullable().default(null),
});
export type Table = z.infer<typeof Table>;
/** A table that another page has made. It stays as it is. */
const Given = z.strictObject({
  id,
  kind: z.literal('given'),
  title: words(200),
  head: z.array(z.string().max(200)).min(1).max(60),
  rows: z.array(z.array(Cell).max(60)).max(500),
  source: words(500),
});
/** A picture of another page. It stays as it is. */
const Picture = z.strictObject({
  id,
  kind: z.literal('picture'),
  title: words(200),
  svg: z.string().max(300_000),
  source: words(500),
});
const Verdict = z.strictObject({
  id,
  kind: z.literal('verdict'),
  question: words(200),
  text: z.string().max(1000),
  figures: words(1000),
  source: words(500),
});
/** A figure that can be checked by hand: the last value, the rows before it, and their mean. */
const Checked = z.strictObject({
  id,
  kind: z.literal('checked'),
  setting: Setting,
  column: z.string().max(2100).default('close'),
  count: z.number().int().min(1).max(60).default(5),
  follows,
  told: ToldCheck.nullable().default(null),
});
type Checked = z.infer<typeof Checked>;
const Divider = z.strictObject({ id, kind: z.literal('divider') });

export const Block = z.discriminatedUnion('kind', [Paragraph, Chart, Table, Given, Picture, Verdict, Checked, Divider]);
export type Block = z.infer<typeof Block>;
export type BlockKind = Block['kind'];
export type BlockOf<Kind extends BlockKind> = Extract<Block, { kind: Kind }>;
/** Blocks that take figures of their own. */
export type AskingBlock = BlockOf<'paragraph' | 'chart' | 'table' | 'checked'>;

export const HandoverBody = z.strictObject({
  /** Who it is for, who it is by, and of what day; each empty where it is not told. */
  reader: words(120),
  author: words(120),
  day: z.union([z.literal(''), z.iso.date()]).default(''),
  blocks: z.array(Block).max(MOST_BLOCKS).default([]),
  /** What has changed since the issue before; told on the page, not in print. */
  changes: z.array(z.string().max(400)).max(200).default([]),
});
export type HandoverBody = z.infer<typeof HandoverBody>;

export const Handover = z.strictObject({
  id: Ledger.shape.id,
  title: Ledger.shape.title,
  version: Ledger.shape.version,
  savedAt: Ledger.shape.savedAt,
  body: HandoverBody,
});
export type Handover = z.infer<typeof Handover>;

/** A page in the list: what it is about, without its figures. */
export const HandoverSummary = Handover.omit({ body: true }).extend({
  day: z.string(),
  tapes: z.array(z.string()),
  blocks: z.number().int(),
  /** The words of its paragraphs and titles, by which it is found. */
  words: z.string(),
});
export type HandoverSummary = z.infer<typeof HandoverSummary>;

/** The query of `GET /api/handovers/ID/figures`. */
export const FiguresQuery = z.strictObject({
  block: z.string().min(1).max(40),
  /** Where it is not told by `Accept`, as a link cannot. */
  format: z.enum(['csv', 'json', 'ndjson', 'arrow', 'parquet']).optional(),
  csv: CsvKind,
});

/** How long a link holds. */
export const LinkBody = z.strictObject({ days: z.number().int().min(1).max(365).default(30) });
export const NewPageLink = z.object({
  /** What it is revoked by; none where no token is set. */
  id: z.string().optional(),
  /** Told once. */
  address: z.string(),
  /** When it ends; null where no token is set, and everybody who reaches the server reads. */
  until: z.string().nullable(),
});
export type NewPageLink = z.infer<typeof NewPageLink>;
/** A link that was made, as the list of them has it. */
export const PageLink = z.object({ id: z.string(), madeBy: z.string(), madeAt: z.string(), until: z.string() });
export type PageLink = z.infer<typeof PageLink>;

const settingOf = (block: Block): Setting | undefined =>
  'setting' in block ? (block.setting ?? undefined) : undefined;

/** The tapes that a page is about, each once. */
export const tapesOf = (body: HandoverBody): string[] => [
  ...new Set(body.blocks.flatMap((block) => settingOf(block)?.tape ?? [])),
];

/** What a list tells of a page, beside its title. */
export function summaryOf(body: HandoverBody) {
  const told = body.blocks.map((block) => {
    if (block.kind === 'paragraph' || block.kind === 'verdict') return block.text;
    return 'title' in block ? block.title : '';
  });
  return {
    ...{ day: body.day, tapes: tapesOf(body), blocks: body.blocks.length },
    words: [body.reader, body.author, ...told].join(' ').slice(0, 4000),
  };
}
