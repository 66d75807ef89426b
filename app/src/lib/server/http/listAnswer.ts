import { json, type RequestEvent } from '@sveltejs/kit';
import { z } from 'zod';
import { refuse } from '$lib/api/problems';
import type { ListPage, ListRange } from '../store/listPages';

/** What the cursors of a list hold: the sort keys of its rows. */
export const BY_SAVING = z.tuple([z.number(), z.number().int()]);
export const BY_NAME = z.tuple([z.string().max(200)]);

/** The stretch that a query asks for. @throws {Refusal} for a cursor that no list has answered with */
export function rangeOf(
  { limit, cursor }: { limit: number; cursor?: string },
  keys: typeof BY_SAVING | typeof BY_NAME,
): ListRange {
  if (cursor === undefined) return { limit };
  const read = keys.safeParse(parsed(Buffer.from(cursor, 'base64url').toString()));
  if (!read.success) throw refuse('invalid-query', '`cursor` is not one that this list has answered with.');
  return { limit, after: read.data };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** A stretch of a list as JSON, with its count in all, and a link to the next one (RFC 8288). */
export function listAnswer<Item>({ url }: RequestEvent, { items, total, next }: ListPage<Item>): Response {
  const headers: Record<string, string> = { 'x-total-count': String(total) };
  if (next) headers.link = `<${addressOfNext(url.pathname, next, url.searchParams)}>; rel="next"`;
  return json(items, { headers });
}

/** The address of the next stretch of a list. */
export function addressOfNext(list: string, next: ListPage<unknown>['next'], query: URLSearchParams): string {
  const asked = new URLSearchParams(query);
  asked.set('cursor', Buffer.from(JSON.stringify(next)).toString('base64url'));
  return `${list}?${asked}`;
}
