import type { Ledger } from '$lib/api/ledgers';
import { RollPageBody } from '$lib/api/pages';

export type Rolled = RollPageBody;

/** Entries to begin with, where no ledger has any. */
const USUAL_ENTRIES = [
  'smooth = mean(close, 20 bars)',
  'wild = stdev(logreturn(close), 20 bars)',
  'memory = hurst(close, 200 bars)',
];

type Field = keyof Rolled;
const USUAL = RollPageBody.parse({ page: 'roll', bars: '1 day', entries: ['a = close'] });

/** What an address asks for; of what it does not say, or says wrongly, what the last ledger says. */
export function rolledOf(address: URLSearchParams, usual: Pick<Rolled, 'bars' | 'entries'>): Rolled {
  const { shape } = RollPageBody;
  const listed = (name: 'entries' | 'tapes', key: string) => {
    const read = shape[name].safeParse(address.getAll(key));
    return read.success && read.data.length > 0 ? read.data : undefined;
  };
  const one = (name: Field, value: unknown) => {
    const read = shape[name].safeParse(value);
    return read.success ? [[name, read.data] as const] : [];
  };
  const texts = (['bars', 'filter', 'sort', 'charts'] as const).flatMap((name) =>
    address.has(name) ? one(name, address.get(name)) : [],
  );
  return {
    ...USUAL,
    ...usual,
    entries: listed('entries', 'entry') ?? (usual.entries.length > 0 ? usual.entries : USUAL_ENTRIES),
    tapes: listed('tapes', 'tape') ?? [],
    ...Object.fromEntries(texts),
    ...Object.fromEntries(address.has('back') ? one('back', Number(address.get('back'))) : []),
    falling: address.get('falling') === 'true',
  };
}

/** The other way round; what is usual is left out. @param kept  the number that the page is kept under */
export function addressOf({ page: _, entries, tapes, ...rest }: Rolled, kept?: number): string {
  const address = new URLSearchParams();
  for (const entry of entries) address.append('entry', entry);
  for (const tape of tapes) address.append('tape', tape);
  for (const [name, value] of Object.entries(rest))
    if (name === 'bars' || value !== USUAL[name as Field]) address.set(name, String(value));
  if (kept !== undefined) address.set('kept', String(kept));
  return `/roll?${address}`;
}

export const ROLL = { page: 'roll', addressOf } as const;

/** The formulas of a ledger, lane by lane. */
export const entriesOf = ({ body }: Pick<Ledger, 'body'>): string[] =>
  body.lanes.flatMap(({ entries }) => entries.map(({ text }) => text));
