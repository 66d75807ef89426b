import type { Store } from './connection';
import type { Ledger } from '$lib/api/ledgers';
import { LedgerBody, type LedgerChange, type NewLedger } from '$lib/api/ledgers';
import { rfc3339 } from '$lib/api/times';

interface LedgerRow {
  id: number;
  title: string;
  body: string;
  version: number;
  saved_at: number;
}

/** All ledgers, the one saved last first. */
export async function listLedgers(db: Store): Promise<Ledger[]> {
  return (await db<LedgerRow>('ledger').orderBy('saved_at', 'desc')).map(toLedger);
}

export async function findLedger(db: Store, id: number): Promise<Ledger | undefined> {
  const row = await db<LedgerRow>('ledger').where({ id }).first();
  return row && toLedger(row);
}

export async function insertLedger(db: Store, { title, body }: NewLedger, savedAt: number): Promise<Ledger> {
  const row = { title, body: JSON.stringify(body), version: 1, saved_at: savedAt };
  const [id] = await db<LedgerRow>('ledger').insert(row);
  return toLedger({ id, ...row });
}

/** Saves a change if it was made on the version that is stored. Nothing where it was not, or there is no such ledger. */
export async function updateLedger(
  db: Store,
  id: number,
  change: LedgerChange,
  savedAt: number,
): Promise<Ledger | undefined> {
  const { title, body, version } = change;
  const row = { title, body: JSON.stringify(body), version: version + 1, saved_at: savedAt };
  const changed = await db<LedgerRow>('ledger').where({ id, version }).update(row);
  return changed === 1 ? toLedger({ id, ...row }) : undefined;
}

/** Ledgers follow a tape that gets another name. */
export async function renameInLedgers(db: Store, from: string, to: string): Promise<void> {
  for (const { id, body, version } of await db<LedgerRow>('ledger').select('id', 'body', 'version')) {
    const ledger = LedgerBody.parse(JSON.parse(body));
    if (ledger.tape !== from) continue;
    await db<LedgerRow>('ledger')
      .where({ id })
      .update({ body: JSON.stringify({ ...ledger, tape: to }), version: version + 1 });
  }
}

export async function deleteLedger(db: Store, id: number): Promise<boolean> {
  return (await db<LedgerRow>('ledger').where({ id }).delete()) > 0;
}

function toLedger({ id, title, body, version, saved_at }: LedgerRow): Ledger {
  return { id, title, version, savedAt: rfc3339(saved_at), body: LedgerBody.parse(JSON.parse(body)) };
}
