import type { LedgerBody } from '$lib/api/ledgers';
import { ledgers } from '../store/ledgers';
import type { DocumentKind } from './documents';

export const LEDGER_KIND: DocumentKind<LedgerBody> = {
  documents: ledgers,
  says: 'ledger',
  owned: 'ledger',
  unknown: 'unknown-ledger',
  changed: 'ledger-changed',
  list: '/api/ledgers',
};
