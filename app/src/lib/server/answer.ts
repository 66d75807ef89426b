import type { RequestEvent, RequestHandler } from '@sveltejs/kit';
import { refuse } from '$lib/api/problems';
import { instantOf } from '$lib/api/times';
import { TABLE_FORMATS, type TableFormat } from './files/tableWriter';
import { problemAnswer, problemOf } from './problem';
import { findTape, type StoredTape } from './store/tapes';

/** A route that answers with a problem where its work is refused or fails. */
export function answering(work: (event: RequestEvent) => Promise<Response>): RequestHandler {
  return async (event) => {
    try {
      return await work(event);
    } catch (error) {
      return problemAnswer(problemOf(error));
    }
  };
}

/** The tape that the address names. @throws {Refusal} where there is none */
export async function tapeOf(event: RequestEvent, name = event.params.name!): Promise<StoredTape> {
  const tape = await findTape(event.locals.db, name);
  if (!tape) throw refuse('unknown-tape', `No tape is called ${name}. GET /api/tapes lists them.`);
  return tape;
}

/** The format that the client asks for; the first of them it accepts. @throws {Refusal} where it accepts none */
export function formatOf(request: Request): TableFormat {
  const accept = (request.headers.get('accept') ?? '*/*').split(',').map((part) => part.split(';')[0].trim());
  for (const type of accept) {
    if (type === '*/*' || type === 'application/*') return 'json';
    if (type === 'text/*') return 'csv';
    if (type in TABLE_FORMATS) return TABLE_FORMATS[type as keyof typeof TABLE_FORMATS];
  }
  throw refuse('not-acceptable', `Figures come as ${Object.keys(TABLE_FORMATS).join(', ')}.`);
}

/** [from, to) of a request; open where it does not say. */
export const rangeOf = ({ from, to }: { from?: string; to?: string }) => ({
  from: from === undefined ? -Infinity : instantOf(from),
  to: to === undefined ? Infinity : instantOf(to),
});

export function tableAnswer(body: Uint8Array, format: TableFormat): Response {
  const type = Object.entries(TABLE_FORMATS).find(([, known]) => known === format)![0];
  return new Response(body as Uint8Array<ArrayBuffer>, { headers: { 'content-type': type, vary: 'accept' } });
}

/** The JSON body of a request. @throws {Refusal} for one that is none, or too large */
export async function jsonBody(request: Request, mostBytes = 2 << 20): Promise<unknown> {
  const text = await request.text();
  if (text.length > mostBytes) throw refuse('too-large', `A body of this kind has at most ${mostBytes >> 20} MB.`);
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    throw refuse('invalid-body', 'The body is no JSON.', {}, { cause: error });
  }
}
