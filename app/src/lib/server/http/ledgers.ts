import type { Ledger, LedgerBody } from '$lib/api/ledgers';
import type { Visitor } from '../auth/sharing';
import { ledgers } from '../store/ledgers';
import { madeBy, seenBy } from '../store/ownership';
import type { Rows } from '../store/store';
import { seenDocument, type DocumentKind } from './documents';

/* Ledgers as whoever asks sees them: one that somebody keeps to himself is not there for others. */

export const LEDGER_KIND: DocumentKind<LedgerBody> = {
  documents: ledgers,
  says: 'ledger',
  owned: 'ledger',
  unknown: 'unknown-ledger',
  changed: 'ledger-changed',
  list: '/api/ledgers',
};

const seen = (rows: Rows, { gate, access, who }: Visitor) =>
  gate.isShut && access !== 'keep' ? seenBy(rows, 'ledger', who) : undefined;

/** All that there are, the one saved last first. */
export const listLedgers = (rows: Rows, who: Visitor): Promise<Ledger[]> => ledgers.list(rows, seen(rows, who));

/** The one of a number as an address has it. */
export const findLedger = (rows: Rows, who: Visitor, number: string): Promise<Ledger | undefined> =>
  seenDocument(rows, who, LEDGER_KIND, number);

/** The one saved last, of a tape if one is named: of one's own where there is one, else of all. */
export async function lastLedger(rows: Rows, who: Visitor, tape?: string): Promise<Ledger | undefined> {
  const own = who.gate.isShut ? await ledgers.last(rows, tape, madeBy(rows, 'ledger', who.who)) : undefined;
  return own ?? ledgers.last(rows, tape, seen(rows, who));
}
