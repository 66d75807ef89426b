import { rfc3339 } from '@jaunty-ledger/core';
import { KEEPER } from '$lib/api/tokens';
import type { PageLink } from '$lib/api/handovers';
import type { Rows } from './store';
import { findPerson } from './people';
import { findToken } from './tokens';

/* Links by which one page is read without signing in. Each ends at its time, when it is revoked, or with its maker's access. */

interface LinkRow {
  id: string;
  page_id: number;
  made_by: string;
  /** In microseconds. */
  made_at: number;
  until: number;
}

export async function insertLink(
  rows: Rows,
  { id, page, madeBy, madeAt, until }: { id: string; page: number; madeBy: string; madeAt: number; until: number },
): Promise<PageLink> {
  const row = { id, page_id: page, made_by: madeBy, made_at: madeAt, until };
  await rows<LinkRow>('page_link').insert(row);
  return toLink(row);
}

/** The links of a page that have not ended, the newest first. */
export async function listLinks(rows: Rows, page: number, now: number): Promise<PageLink[]> {
  const found = await rows<LinkRow>('page_link').where({ page_id: page }).where('until', '>', now);
  return found.sort((a, b) => b.made_at - a.made_at).map(toLink);
}

/** @returns whether the page has such a link */
export const deleteLink = async (rows: Rows, page: number, id: string): Promise<boolean> =>
  (await rows<LinkRow>('page_link').where({ page_id: page, id }).delete()) > 0;

/** Whether a link opens a page: it has not ended, and who made it still has access. */
export async function isLinkOpen(rows: Rows, page: number, id: string, now: number): Promise<boolean> {
  const link = await rows<LinkRow>('page_link').where({ page_id: page, id }).where('until', '>', now).first();
  if (!link) return false;
  const name = link.made_by;
  return (
    name === KEEPER ||
    (await findPerson(rows, { name })) !== undefined ||
    (await findToken(rows, { name })) !== undefined
  );
}

export async function sweepLinks(rows: Rows, now: number): Promise<void> {
  await rows<LinkRow>('page_link').where('until', '<', now).delete();
}

const toLink = ({ id, made_by, made_at, until }: LinkRow): PageLink => ({
  ...{ id, madeBy: made_by },
  ...{ madeAt: rfc3339(made_at), until: rfc3339(until) },
});
