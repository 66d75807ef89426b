import { CompareBody } from '$lib/api/pages';
import { pageAddress } from '$lib/pages/address';
import { Member, memberText, type PairBody } from '$lib/works/comparison/work';
import { naturalBars } from '$lib/api/naturalBars';
import type { Tape } from '$lib/api/tapes';

export type Compared = CompareBody;

/** Members to begin with: tapes of one kind, the one that was looked at last first. */
const FIRST_MEMBERS = 6;

/** A member as it is written: `KELP`, or `KELP: volume` for another column or formula. Nothing where it is none. */
export function readMember(text: string): Member | undefined {
  const [, tape, entry] = /^\s*([A-Za-z][A-Za-z0-9_]*)\s*(?::\s*(.+?))?\s*$/.exec(text) ?? [];
  return Member.safeParse({ tape, ...(entry && { entry }) }).data;
}

/** Members that stand in one line, with commas between; commas in brackets are part of a formula. */
export const splitMembers = (text: string): string[] =>
  text
    .split(/,(?![^(]*\))/)
    .map((part) => part.trim())
    .filter(Boolean);

/** Whether two tapes are of one kind, by one calendar, with records as far apart, and have a time in common. */
const isComparable = (one: Tape, other: Tape): boolean =>
  one.kind === other.kind &&
  one.precision === other.precision &&
  one.calendar === other.calendar &&
  naturalBars(one) === naturalBars(other) &&
  one.from < other.to &&
  other.from < one.to;

const usualMembers = (tape: string, tapes: readonly Tape[]): Member[] => {
  const first = tapes.find(({ name }) => name === tape) ?? tapes[0];
  const alike = tapes.filter((one) => one.name !== first.name && isComparable(one, first));
  // tapes of one file with several columns are called after it, with the column behind
  const stem = first.name.slice(0, first.name.lastIndexOf('_') + 1);
  const ofFile = stem ? alike.filter(({ name }) => name.startsWith(stem)) : [];
  return [first, ...(ofFile.length > 0 ? ofFile : alike)]
    .slice(0, FIRST_MEMBERS)
    .map(({ name }) => ({ tape: name, entry: 'close' }));
};

/**
 * What depends on the tapes where nothing is chosen: returns are averaged of prices only, since those of counts say little and
 * add up to a line far from its members; and values at or below 0 have none, and cannot be rebased.
 */
function usualFor(members: readonly Member[], tapes: readonly Tape[]): Pick<Compared, (typeof BY_TAPES)[number]> {
  const own = members.flatMap(({ tape }) => tapes.find(({ name }) => name === tape) ?? []);
  const isOfPrices = own[0]?.kind !== 'series';
  const hasRatios = own.every(({ kind, spark }) => kind !== 'series' || spark.every((value) => value > 0));
  return {
    average: isOfPrices ? 'equal' : 'held',
    scale: hasRatios ? 'rebased' : 'raw',
    of: hasRatios ? 'returns' : 'levels',
  };
}
const BY_TAPES = ['average', 'scale', 'of'] as const;

/** A note as it stands in an address: its instant, a space, its words. */
function readNote(written: string, place: number): CompareBody['notes'][number] {
  const gap = `${written} `.indexOf(' ');
  return { id: `note-${place}`, at: written.slice(0, gap), text: written.slice(gap + 1) };
}

const ADDRESS = pageAddress(
  '/compare',
  CompareBody,
  { page: 'compare', members: [{ tape: 'A' }], bars: '1 day' },
  {
    names: { members: 'member', notes: 'note' },
    always: BY_TAPES,
    items: {
      members: { read: readMember, write: memberText },
      notes: { read: readNote, write: ({ at, text }: CompareBody['notes'][number]) => `${at} ${text}` },
    },
  },
);

/** What an address asks for; of what it does not say, or says wrongly, what suits the tapes. */
export function comparedOf(
  address: URLSearchParams,
  { tape, bars }: Pick<Compared, 'bars'> & { tape: string },
  tapes: readonly Tape[],
): Compared {
  const asked = ADDRESS.read(address, { bars, members: [] }).members;
  const members = asked.length > 0 ? asked : usualMembers(tape, tapes);
  return { ...ADDRESS.read(address, { bars, ...usualFor(members, tapes) }), members };
}

/** The other way round; what is usual is left out. @param kept  the number that the page is kept under */
export const addressOf = ADDRESS.write;

export const COMPARE = { page: 'compare', addressOf } as const;

const joinOf = ({ members, bars, from, to, rows, average }: Compared) => ({
  members,
  bars,
  ...((from || to) && { stretch: { ...(from && { from }), ...(to && { to }) } }),
  rows,
  average: average === 'none' ? ('equal' as const) : average,
});

/** The question to the server that columns on common rows answer. */
export const bodyOf = (compared: Compared) => ({ ...joinOf(compared), matrix: false });

/** The one that correlations of all pairs answer. */
export const matrixBodyOf = (compared: Compared) => ({
  ...joinOf(compared),
  ...{ of: compared.of, order: compared.order, reference: compared.a },
  ...(compared.matrix === 'window' && { window: compared.window }),
  columns: false,
});

/** The one that tells what holds of a pair as a whole. */
export const bondsBodyOf = (compared: Compared, pair: { a: number; b: number }) => ({
  ...joinOf(compared),
  ...{ columns: false, matrix: false, pair: { ...pair, lags: 20 } },
});

/** How far the one goes with the other, as the core takes it. */
export function betaOf(text: string): PairBody['beta'] {
  if (text === 'all') return 'all';
  const [, rows] = /^(\d+) rows$/.exec(text) ?? [];
  return rows === undefined ? Number(text) : { rows: Math.max(2, Number(rows)) };
}

/** Where a parted stretch begins and ends, where nothing else was chosen. */
export const endsOf = ({ partedBy, begin, end }: Pick<Compared, 'partedBy' | 'begin' | 'end'>) => ({
  begin: begin ?? (partedBy === 'correlation' ? 0 : 2),
  end: end ?? 0.5,
});
