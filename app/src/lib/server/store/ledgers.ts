import { LedgerBody } from '$lib/api/ledgers';
import { Documents, isSameTape } from './documents';

export const ledgers = new Documents<LedgerBody>(
  'ledger',
  (body) => LedgerBody.parse(body),
  ({ tape }) => tape,
  (body, from, to) => (isSameTape(body.tape, from) ? { ...body, tape: to } : undefined),
);
