import type { Ledger } from '$lib/api/ledgers';
import { RollPageBody } from '$lib/api/pages';
import { pageAddress } from '$lib/pages/address';

export type Rolled = RollPageBody;

/** Entries to begin with, where no ledger has any. */
const USUAL_ENTRIES = [
  'smooth = mean(close, 20 bars)',
  'wild = stdev(logreturn(close), 20 bars)',
  'memory = hurst(close, 200 bars)',
];

const ADDRESS = pageAddress(
  '/roll',
  RollPageBody,
  { page: 'roll', bars: '1 day', entries: ['a = close'] },
  { names: { entries: 'entry', tapes: 'tape' } },
);

/** What an address asks for; of what it does not say, or says wrongly, what the last ledger says. */
export const rolledOf = (address: URLSearchParams, { bars, entries }: Pick<Rolled, 'bars' | 'entries'>): Rolled =>
  ADDRESS.read(address, { bars, entries: entries.length > 0 ? entries : USUAL_ENTRIES });

/** The other way round; what is usual is left out. @param kept  the number that the page is kept under */
export const addressOf = ADDRESS.write;

export const ROLL = { page: 'roll', addressOf } as const;

/** The formulas of a ledger, lane by lane. */
export const entriesOf = ({ body }: Pick<Ledger, 'body'>): string[] =>
  body.lanes.flatMap(({ entries }) => entries.map(({ text }) => text));
