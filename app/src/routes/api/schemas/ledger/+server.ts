import { z } from 'zod';
import { LedgerFile } from '$lib/api/ledgers';
import { endpoint } from '$lib/server/http/endpoint';

export const GET = endpoint(
  {
    says: 'The JSON Schema of a ledger that is handed out as a file.',
    answer: z.record(z.string(), z.unknown()),
    writes: false,
  },
  async () => z.toJSONSchema(LedgerFile, { io: 'input' }),
);
