import type { RequestEvent } from '@sveltejs/kit';
import Negotiator from 'negotiator';
import { refuse } from '$lib/api/problems';
import { instantOf } from '@jaunty-ledger/core';
import { TABLE_FORMATS, type TableFormat } from '@jaunty-ledger/files/tables/tableWriter';
import { logged } from '../log';
import { findTape } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';

/** The tape that the address names. @throws {Refusal} where there is none */
export async function tapeOf(event: RequestEvent, name = event.params.name!): Promise<StoredTape> {
  const tape = await event.locals.store.read((rows) => findTape(rows, name));
  if (!tape) throw refuse('unknown-tape', `No tape is called ${name}. GET /api/tapes lists them.`);
  return tape;
}

const TYPES = Object.keys(TABLE_FORMATS) as (keyof typeof TABLE_FORMATS)[];

/** The format that the client likes best of those that there are. @throws {Refusal} where it accepts none */
export function formatOf(request: Request): TableFormat {
  const accepted = new Negotiator({ headers: { accept: request.headers.get('accept') ?? '*/*' } });
  const type = accepted.mediaType(TYPES) as keyof typeof TABLE_FORMATS | undefined;
  if (type === undefined) throw refuse('not-acceptable', `Figures come as ${TYPES.join(', ')}.`);
  return TABLE_FORMATS[type];
}

/** [from, to) of a request; open where it does not say. */
export const rangeOf = ({ from, to }: { from?: string; to?: string }) => ({
  from: from === undefined ? -Infinity : instantOf(from),
  to: to === undefined ? Infinity : instantOf(to),
});

/** Why columns worked out from bars may be refused. */
export const COLUMN_REFUSALS = [
  'unknown-tape',
  'invalid-rule',
  'invalid-formula',
  'invalid-body',
  'too-many-bars',
  'too-much-work',
  'tape-changed',
  'damaged-tape',
] as const;

/** Formats in which figures leave the book: as files, not for a page that shows them. */
const LEAVING: readonly TableFormat[] = ['csv', 'parquet', 'ndjson'];

/**
 * Figures about a tape.
 * @param event  who is given them: what leaves the book is noted
 * @param tape   of which they are: the page holds answers about one tape together by its version
 */
export function tableAnswer(
  event: RequestEvent,
  body: Uint8Array,
  format: TableFormat,
  { name, version }: StoredTape,
): Response {
  // a page is shown figures in the other formats; a program that is no page takes them away in any
  if (LEAVING.includes(format) || !event.request.headers.has('x-client'))
    logged(event, 'exported', { tape: name, of: event.route.id?.split('/').at(-1), format, bytes: body.length });
  const type = TYPES.find((known) => TABLE_FORMATS[known] === format)!;
  return new Response(body as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': type, vary: 'accept', 'tape-version': String(version) },
  });
}

/** An answer that is JSON already. */
export const jsonAnswer = (body: Uint8Array): Response =>
  new Response(body as Uint8Array<ArrayBuffer>, { headers: { 'content-type': 'application/json' } });
