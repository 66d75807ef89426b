import type { Rows } from './store';

/** Who is signed in with a browser, and by what. */
export interface Session {
  who: string;
  kind: 'person' | 'token';
  /** The hash of the token or of the password that it was opened with. */
  openedWith: string;
}

interface SessionRow {
  hash: string;
  who: string;
  kind: Session['kind'];
  opened_with: string;
  until: number;
}

/** @param until  in milliseconds */
export async function insertSession(
  rows: Rows,
  hash: string,
  { who, kind, openedWith }: Session,
  until: number,
): Promise<void> {
  await rows<SessionRow>('session').insert({ hash, who, kind, opened_with: openedWith, until });
}

export async function findSession(rows: Rows, hash: string, now: number): Promise<Session | undefined> {
  const row = await rows<SessionRow>('session').where({ hash }).where('until', '>', now).first();
  return row && { who: row.who, kind: row.kind, openedWith: row.opened_with };
}

export async function deleteSession(rows: Rows, hash: string): Promise<void> {
  await rows<SessionRow>('session').where({ hash }).delete();
}

/** Signs a person out wherever he is signed in. */
export async function deleteSessionsOf(rows: Rows, who: string): Promise<void> {
  await rows<SessionRow>('session').where({ who, kind: 'person' }).delete();
}

export async function sweepSessions(rows: Rows, now: number): Promise<void> {
  await rows<SessionRow>('session').where('until', '<', now).delete();
}
