import { CHANGES, PROFILES } from '@jaunty-ledger/core';
import { z } from 'zod';
import { JOINS, Member, memberText, MOST_MEMBERS, OF, ORDERS } from '$lib/works/comparison/work';
import { MOST_LAGS } from '$lib/works/examination/work';
import { Ledger, LedgerNote } from './ledgers';
import { othersOfNew } from './people';
import { MOST_HORIZON, MOST_MODELS } from '$lib/works/projection/work';
import { MOST_ROLLED, MOST_ROLLED_ENTRIES } from '$lib/works/roll/work';
import { BarRuleText, instantText, TapeName } from './tapes';

const end = z.union([z.literal(''), instantText]).default('');

/** All that a page of Examine shows. */
export const ExamineBody = z.strictObject({
  page: z.literal('examine'),
  tape: TapeName,
  bars: BarRuleText,
  entry: z.string().min(1).max(2000),
  /** Further entries that it uses. */
  uses: z.array(z.string().max(2000)).max(100).default([]),
  /** First instant and the one after the last; empty where the stretch is open. */
  from: end,
  to: end,
  /** What is done to it before, in order. */
  treatments: z.array(z.string().max(40)).max(8).default([]),
  lags: z.number().int().min(1).max(MOST_LAGS).default(40),
  season: z.number().int().min(2).max(1_000_000).nullable().default(null),
  /** What its rows are put together by: a part of the calendar, or a column of words. */
  profile: z.enum(PROFILES).nullable().default(null),
  words: z.string().max(200).default(''),
  /** Rows on either side of a turning point. */
  turns: z.number().int().min(1).max(1_000_000).nullable().default(null),
  /** As what its shape is drawn, and what its memory is shown of. */
  shape: z.enum(['counts', 'normal']).default('counts'),
  /** Which changes of levels are asked about. */
  changes: z.enum(CHANGES).default('auto'),
  memory: z.enum(['values', 'squares']).default('values'),
  /** The band of the autocorrelation: that of white noise, or Bartlett's, which widens with the lag. */
  band: z.enum(['noise', 'bartlett']).default('noise'),
  /** A tape that is examined beside it; empty for none. */
  beside: z.union([z.literal(''), TapeName]).default(''),
  /** The entry that is examined of it; the same one where this is empty. */
  besideEntry: z.string().max(2000).default(''),
});
export type ExamineBody = z.infer<typeof ExamineBody>;

/** All that a page of Project shows. */
export const ProjectBody = z.strictObject({
  page: z.literal('project'),
  tape: TapeName,
  bars: BarRuleText,
  entry: z.string().min(1).max(2000),
  uses: z.array(z.string().max(2000)).max(100).default([]),
  from: end,
  to: end,
  /** The last instant that is seen; the last bar where it is empty. */
  origin: end,
  horizon: z.number().int().min(1).max(MOST_HORIZON).default(30),
  models: z.array(z.string().min(1).max(100)).max(MOST_MODELS).default([]),
  /** Which of the models is told of in full, by its place. */
  focus: z.number().int().min(0).max(MOST_MODELS).default(0),
  /** A value of which it is asked when it is reached. */
  target: z.number().nullable().default(null),
  /** Rows ahead that the account shows beside the horizon. */
  steps: z.array(z.number().int().min(1).max(MOST_HORIZON)).max(6).default([1, 5]),
  /** Lags of the residuals of the model in focus. */
  lags: z.number().int().min(1).max(200).default(40),
  /** A formula that it is taken as a share of; empty for none. */
  driver: z.string().max(2000).default(''),
  /** A day, or another time, of which the values are asked; empty for none. */
  day: end,
});
export type ProjectBody = z.infer<typeof ProjectBody>;

/** All that a page of Compare shows. */
export const CompareBody = z.strictObject({
  page: z.literal('compare'),
  members: z.array(Member).min(1).max(MOST_MEMBERS),
  bars: BarRuleText,
  from: end,
  to: end,
  /** Lines as 100 at one row, as they stand, or in percent from there. */
  scale: z.enum(['rebased', 'raw', 'percent']).default('rebased'),
  /** The instant at which they are 100; the first in view where it is empty. */
  base: end,
  /** Rows of the mean that all lines are; 1 for none. */
  smooth: z.number().int().min(1).max(100_000).default(1),
  average: z.enum(['equal', 'held', 'none']).default('equal'),
  rows: z.enum(JOINS).default('common'),
  of: z.enum(OF).default('returns'),
  /** Rows of the correlations: of the matrix, and of the pair. */
  window: z.number().int().min(2).max(1_000_000).default(60),
  order: z.enum(ORDERS).default('given'),
  /** Whether the matrix is over the last bars of the window, or over all common bars. */
  matrix: z.enum(['window', 'all']).default('window'),
  /** The pair, by places among the members. */
  a: z.number().int().min(0).max(MOST_MEMBERS).default(0),
  b: z.number().int().min(0).max(MOST_MEMBERS).default(1),
  by: z.enum(['spread', 'ratio']).default('spread'),
  /** A number, or `all` rows, or a number of rows such as `60 rows`. */
  beta: z
    .string()
    .regex(/^(all|-?\d+(\.\d+)?|\d+ rows)$/)
    .default('1'),
  partedBy: z.enum(['correlation', 'deviations']).default('correlation'),
  /** Rows that deviations are taken from. */
  behind: z.number().int().min(2).max(1_000_000).default(60),
  begin: z.number().nullable().default(null),
  end: z.number().nullable().default(null),
  /** The member whose line stands out; none where it is negative. */
  strong: z.number().int().min(-1).max(MOST_MEMBERS).default(-1),
  /** Pinned to instants. */
  notes: z.array(LedgerNote).max(100).default([]),
});
export type CompareBody = z.infer<typeof CompareBody>;

/** All that a roll shows: one ledger's entries over many tapes. */
export const RollPageBody = z.strictObject({
  page: z.literal('roll'),
  bars: BarRuleText,
  entries: z.array(z.string().min(1).max(2000)).min(1).max(MOST_ROLLED_ENTRIES),
  /** All tapes where it is empty. */
  tapes: z.array(TapeName).max(MOST_ROLLED).default([]),
  /** Rows back that a change goes over. */
  back: z.number().int().min(1).max(1_000_000).default(1),
  /** A condition in the notation, of the entries' names; empty for all rows. */
  filter: z.string().max(500).default(''),
  /** The entry whose values the rows are sorted by; by the names of tapes where it is none. */
  sort: z.string().max(100).default(''),
  falling: z.boolean().default(false),
  /** The name of an entry of which there is a little chart a tape; empty for none. */
  charts: z.string().max(100).default(''),
});
export type RollPageBody = z.infer<typeof RollPageBody>;

/** What a kept page of the book says, by its kind. */
export const PageBody = z.discriminatedUnion('page', [ExamineBody, ProjectBody, CompareBody, RollPageBody]);
export type PageBody = z.infer<typeof PageBody>;

/** The tape that a page is about, the first of several, and what it says of it. */
export function aboutOf(body: PageBody): { tape: string; says: string } {
  if (body.page === 'roll') {
    const of = body.tapes.length === 0 ? 'all tapes' : `${body.tapes.length} tapes`;
    return { tape: body.tapes[0] ?? '', says: `${body.entries.length} entries on ${of}, ${body.bars}` };
  }
  if (body.page !== 'compare') return { tape: body.tape, says: `${body.entry} of ${body.tape}, ${body.bars}` };
  const names = body.members.map(memberText);
  const more = names.length > 4 ? ` and ${names.length - 4} more` : '';
  return { tape: body.members[0].tape, says: `${names.slice(0, 4).join(', ')}${more}, ${body.bars}` };
}

/** A page of the book that is kept under a name. */
export const KeptPage = z.strictObject({
  id: Ledger.shape.id,
  title: Ledger.shape.title,
  version: Ledger.shape.version,
  savedAt: Ledger.shape.savedAt,
  body: PageBody,
});
export type KeptPage = z.infer<typeof KeptPage>;

export const NewPage = z.strictObject({ title: Ledger.shape.title, body: PageBody });
export type NewPage = z.infer<typeof NewPage>;
/** The body of `POST /api/pages`. */
export const PageToMake = NewPage.extend({ others: othersOfNew });

/** A change tells which version it was made on. */
export const PageChange = NewPage.extend({ version: z.number().int() });
export type PageChange = z.infer<typeof PageChange>;
