import type { Knex } from 'knex';
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
export async function listLedgers(db: Knex): Promise<Ledger[]> {
  return (await db<LedgerRow>('ledger').orderBy('saved_at', 'desc')).map(toLedger);
}

export async function findLedger(db: Knex, id: number): Promise<Ledger | undefined> {
  const row = await db<LedgerRow>('ledger').where({ id }).first();
  return row && toLedger(row);
}

export async function insertLedger(db: Knex, { title, body }: NewLedger, savedAt: number): Promise<Ledger> {
  const row = { title, body: JSON.stringify(body), version: 1, saved_at: savedAt };
  const [id] = await db<LedgerRow>('ledger').insert(row);
  return toLedger({ id, ...row });
}

/** Saves a change if it was made on the version that is stored. Nothing where it was not, or there is no such ledger. */
export async function updateLedger(
  db: Knex,
  id: number,
  change: LedgerChange,
  savedAt: number,
): Promise<Ledger | undefined> {
  const { title, body, version } = change;
  const row = { title, body: JSON.stringify(body), version: version + 1, saved_at: savedAt };
  const changed = await db<LedgerRow>('ledger').where({ id, version }).update(row);
  return changed === 1 ? toLedger({ id, ...row }) : undefined;
}

export async function deleteLedger(db: Knex, id: number): Promise<boolean> {
  return (await db<LedgerRow>('ledger').where({ id }).delete()) > 0;
}

function toLedger({ id, title, body, version, saved_at }: LedgerRow): Ledger {
  return { id, title, version, savedAt: rfc3339(saved_at), body: LedgerBody.parse(JSON.parse(body)) };
}
