import type { Ledger, LedgerBody } from '$lib/api/ledgers';
import type { Visitor } from '../auth/sharing';
import { ledgers } from '../store/ledgers';
import { madeBy } from '../store/ownership';
import type { Rows } from '../store/store';
import { CHOICES, seenDocument, visibleTo, type DocumentKind } from './documents';

/* Ledgers as whoever asks sees them: one that somebody keeps to himself is not there for others. */

export const LEDGERS: DocumentKind<LedgerBody> = {
  documents: ledgers,
  owned: 'ledger',
  says: 'ledger',
  unknown: 'unknown-ledger',
  changed: 'ledger-changed',
  list: '/api/ledgers',
};

/** Those saved last, to choose from. */
export const ledgerChoices = (rows: Rows, who: Visitor): Promise<Ledger[]> =>
  ledgers.list(rows, visibleTo(rows, who, LEDGERS), CHOICES);

/** The one of a number as an address has it. */
export const findLedger = (rows: Rows, who: Visitor, number: string): Promise<Ledger | undefined> =>
  seenDocument(rows, who, LEDGERS, number);

/** The one saved last, of a tape if one is named: of one's own where there is one, else of all. */
export async function lastLedger(rows: Rows, who: Visitor, tape?: string): Promise<Ledger | undefined> {
  const own = who.gate.isShut ? await ledgers.last(rows, tape, madeBy(rows, 'ledger', who.who)) : undefined;
  return own ?? ledgers.last(rows, tape, visibleTo(rows, who, LEDGERS));
}
