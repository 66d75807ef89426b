import { instantOf } from '@jaunty-ledger/core';
import { z } from 'zod';
import { Act, AuditQuery } from '$lib/api/people';
import { requireKeeper } from '$lib/server/auth/keeper';
import { endpoint } from '$lib/server/http/endpoint';
import { listActs } from '$lib/server/store/audit';

export const GET = endpoint(
  {
    says: 'Audit log: imports, changes, deletions, exports and sign-ins, newest first.',
    query: AuditQuery,
    answer: z.array(Act),
    refuses: ['not-allowed'],
    writes: false,
  },
  async ({ event, query: { before, ...query } }) => {
    requireKeeper(event);
    const instant = before === undefined ? undefined : instantOf(before);
    return event.locals.store.read((rows) => listActs(rows, { ...query, before: instant }));
  },
);
