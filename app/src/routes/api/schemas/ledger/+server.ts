import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { LedgerFile } from '$lib/api/ledgers';

/** The JSON Schema of a ledger that is handed out as a file. */
export const GET = () => json(z.toJSONSchema(LedgerFile, { io: 'input' }));
