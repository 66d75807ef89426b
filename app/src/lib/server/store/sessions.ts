import { rfc3339 } from '@jaunty-ledger/core';
import type { OpenSession } from '$lib/api/people';
import type { Rows } from './store';

/** Who is signed in with a browser, and by what. */
export interface Session {
  who: string;
  kind: 'person' | 'token';
  /** The hash of the token or of the password that it was opened with. */
  openedWith: string;
}

/** When and where it was opened; instants in milliseconds. */
interface Opening {
  id: string;
  address: string;
  now: number;
  until: number;
}

interface SessionRow {
  hash: string;
  who: string;
  kind: Session['kind'];
  opened_with: string;
  until: number;
  /** What it is ended by; null for those that were opened before sessions had one, as the instants are. */
  id: string | null;
  made_at: number | null;
  used_at: number | null;
  address: string | null;
}

export async function insertSession(
  rows: Rows,
  hash: string,
  { who, kind, openedWith }: Session,
  { id, address, now, until }: Opening,
): Promise<void> {
  const row = { hash, who, kind, opened_with: openedWith, until, id, address, made_at: now, used_at: now };
  await rows<SessionRow>('session').insert(row);
}

/** @param idleMs  one that was not used for so long has ended */
export async function findSession(
  rows: Rows,
  hash: string,
  now: number,
  idleMs: number,
): Promise<(Session & { id: string | null; usedAt: number }) | undefined> {
  const row = await rows<SessionRow>('session').where({ hash }).where('until', '>', now).first();
  if (!row || (row.used_at !== null && row.used_at < now - idleMs)) return undefined;
  return { who: row.who, kind: row.kind, openedWith: row.opened_with, id: row.id, usedAt: row.used_at ?? 0 };
}

export async function noteSessionUse(rows: Rows, hash: string, now: number): Promise<void> {
  await rows<SessionRow>('session').where({ hash }).update({ used_at: now });
}

/** Sessions of somebody that have not ended, the one used last first. */
export async function listSessions(
  rows: Rows,
  who: string,
  now: number,
  idleMs: number,
): Promise<Omit<OpenSession, 'isThis'>[]> {
  const found = await rows<SessionRow>('session').where({ who }).where('until', '>', now).whereNotNull('id');
  const timeOf = (ms: number | null) => rfc3339((ms ?? 0) * 1000);
  return found
    .filter(({ used_at }) => (used_at ?? 0) >= now - idleMs)
    .sort((a, b) => (b.used_at ?? 0) - (a.used_at ?? 0))
    .map(({ id, made_at, used_at, address }) => ({
      ...{ id: id!, madeAt: timeOf(made_at), usedAt: timeOf(used_at) },
      address: address ?? '',
    }));
}

export async function deleteSession(rows: Rows, hash: string): Promise<void> {
  await rows<SessionRow>('session').where({ hash }).delete();
}

/** Ends sessions of somebody: one, or all of them. @returns how many */
export const endSessions = (rows: Rows, who: string, id?: string): Promise<number> =>
  rows<SessionRow>('session')
    .where({ who, ...(id !== undefined && { id }) })
    .delete();

/** Signs a person out wherever he is signed in. */
export async function deleteSessionsOf(rows: Rows, who: string): Promise<void> {
  await rows<SessionRow>('session').where({ who, kind: 'person' }).delete();
}

export async function sweepSessions(rows: Rows, now: number): Promise<void> {
  await rows<SessionRow>('session').where('until', '<', now).delete();
}
