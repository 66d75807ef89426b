import { LedgerBody } from '$lib/api/ledgers';
import { Documents } from './documents';

export const ledgers = new Documents<LedgerBody>({
  table: 'ledger',
  read: (body) => LedgerBody.parse(body),
  tapeOf: ({ tape }) => tape,
  following: { withTape: (body, tape) => ({ ...body, tape }) },
});
