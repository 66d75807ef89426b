import { rfc3339 } from '@jaunty-ledger/core';
import type { Act } from '$lib/api/people';
import type { Rows } from './store';

interface AuditRow {
  at: number;
  who: string;
  address: string;
  act: string;
  what: string;
}

/** Notes an act at the time of the database, whose clock all servers share. */
export async function noteAct(rows: Rows, { what, ...act }: Omit<Act, 'at'>): Promise<void> {
  const { dialect } = rows.client as { dialect: string };
  const now = dialect === 'postgresql' ? rows.raw('extract(epoch from clock_timestamp()) * 1e6') : Date.now() * 1000;
  await rows('audit').insert({ ...act, at: now, what: JSON.stringify(what) });
}

/** Acts before an instant, the latest first; of one person if he is named. */
export async function listActs(
  rows: Rows,
  { who, before, limit }: { who?: string; before?: number; limit: number },
): Promise<Act[]> {
  const all = rows<AuditRow>('audit')
    .orderBy(['at', 'id'].map((column) => ({ column, order: 'desc' })))
    .limit(limit);
  if (who !== undefined) void all.where({ who });
  if (before !== undefined) void all.where('at', '<', before);
  return (await all).map(({ at, what, who: by, address, act }) => ({
    ...{ at: rfc3339(at), who: by, address, act },
    what: JSON.parse(what) as Record<string, unknown>,
  }));
}
