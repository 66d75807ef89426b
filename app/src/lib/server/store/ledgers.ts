import { fromJson, toJson } from './json';
import type { Rows } from './store';
import type { Ledger } from '$lib/api/ledgers';
import { LedgerBody, type LedgerChange, type NewLedger } from '$lib/api/ledgers';
import { rfc3339 } from '@jaunty-ledger/core';

interface LedgerRow {
  id: number;
  title: string;
  body: string;
  version: number;
  saved_at: number;
  tape_key: string;
}

const tapeKeyOf = (name: string): string => name.toLowerCase();

/** All ledgers, the one saved last first. */
export async function listLedgers(rows: Rows): Promise<Ledger[]> {
  return (await rows<LedgerRow>('ledger').orderBy('saved_at', 'desc')).map(toLedger);
}

/** The ledger that was saved last; of a tape, if one is named. */
export async function lastLedger(rows: Rows, tape?: string): Promise<Ledger | undefined> {
  const all = rows<LedgerRow>('ledger').orderBy('saved_at', 'desc');
  const row = await (tape === undefined ? all : all.where({ tape_key: tapeKeyOf(tape) })).first();
  return row && toLedger(row);
}

export async function findLedger(rows: Rows, id: number): Promise<Ledger | undefined> {
  const row = await rows<LedgerRow>('ledger').where({ id }).first();
  return row && toLedger(row);
}

export async function insertLedger(rows: Rows, { title, body }: NewLedger, savedAt: number): Promise<Ledger> {
  const row = { ...fieldsOf({ title, body }), version: 1, saved_at: savedAt };
  const [{ id }] = await rows<LedgerRow>('ledger').insert(row).returning('id');
  return toLedger({ id, ...row });
}

/** Saves a change if it was made on the version that is stored. Nothing where it was not, or there is no such ledger. */
export async function updateLedger(
  rows: Rows,
  id: number,
  change: LedgerChange,
  savedAt: number,
): Promise<Ledger | undefined> {
  const { version } = change;
  const row = { ...fieldsOf(change), version: version + 1, saved_at: savedAt };
  const changed = await rows<LedgerRow>('ledger').where({ id, version }).update(row);
  return changed === 1 ? toLedger({ id, ...row }) : undefined;
}

/** Ledgers follow a tape that gets another name. */
export async function renameInLedgers(rows: Rows, from: string, to: string): Promise<void> {
  const followers = await rows<LedgerRow>('ledger').where({ tape_key: tapeKeyOf(from) });
  for (const { id, body, version } of followers) {
    const ledger = { ...LedgerBody.parse(fromJson(body)), tape: to };
    await rows<LedgerRow>('ledger')
      .where({ id })
      .update({ body: toJson(ledger), tape_key: tapeKeyOf(to), version: version + 1 });
  }
}

/** Takes a ledger away if it is at a version. Nothing where it is not, or there is no such ledger. */
export async function deleteLedger(rows: Rows, id: number, version: number): Promise<boolean> {
  return (await rows<LedgerRow>('ledger').where({ id, version }).delete()) > 0;
}

const fieldsOf = ({ title, body }: NewLedger) => ({
  title,
  body: toJson(body),
  tape_key: tapeKeyOf(body.tape),
});

function toLedger({ id, title, body, version, saved_at }: Omit<LedgerRow, 'tape_key'>): Ledger {
  return { id, title, version, savedAt: rfc3339(saved_at), body: LedgerBody.parse(fromJson(body)) };
}
