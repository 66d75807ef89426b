import { json, type RequestEvent, type RequestHandler } from '@sveltejs/kit';
import type { z } from 'zod';
import { refuse, type ProblemCode } from '$lib/api/problems';
import { settings } from '../settings';
import { isStoreFull } from '../store/store';
import { StoppedError } from '../tasks/course';
import { jsonBody } from './bodies';
import { clientOf, leavingOf } from './clients';
import { problemAnswer, problemOf, readBy } from './problem';

type Schema = z.ZodType;

/** What a request has told, read by the schemas of its endpoint. */
export interface Asked<Query = unknown, Body = unknown> {
  event: RequestEvent;
  query: Query;
  body: Body;
  /** Who asks: work is shared out fairly among clients. */
  client: string;
  /** Says that the client has gone. */
  signal: AbortSignal;
}

/** What an endpoint does, for programs: OpenAPI is made of these. */
export interface Operation {
  says: string;
  query?: Schema;
  body?: Schema;
  /** The most that the body takes in megabytes, where it is another than usual. */
  bodyMegabytes?: number;
  /** A file as the body, of any of the formats that can be read. */
  takesFile?: true;
  /** Lines of JSON or CSV as the body, for as long as it stays open. */
  takesLines?: true;
  /**
   * What comes: JSON after a schema, a table in the format that is accepted, a text, an iCalendar file, metrics, or for as
   * long as it stays open lines of JSON or server-sent events.
   */
  answer?: Schema | { lines: Schema } | { events: Schema } | 'table' | 'text' | 'icalendar' | 'metrics';
  /** Whether lines of JSON can be asked for, which tell how far a long answer is. */
  tellsShare?: true;
  /** Whether it answers with a stretch of a list, by `limit` and `cursor`. */
  isList?: true;
  /** Status of the answer; 200, or 204 where nothing comes. */
  status?: number;
  /** Refusals of its own, beside those that any endpoint may have. */
  refuses?: readonly ProblemCode[];
  /** Whether something may be other than before. A POST that only works something out does not write. */
  writes: boolean;
}

export type Endpoint = RequestHandler & { operation: Operation };

/**
 * A route of the interface: what it is told is read by its schemas, and what goes wrong is answered as a problem.
 * @param work  gives an answer of its own, or a value that is sent as JSON
 */
export function endpoint<Query extends Schema = z.ZodUndefined, Body extends Schema = z.ZodUndefined>(
  operation: Operation & { query?: Query; body?: Body },
  work: (asked: Asked<z.infer<Query>, z.infer<Body>>) => Promise<unknown>,
): Endpoint {
  const { query: querySchema, body: bodySchema, writes, status = operation.answer ? 200 : 204 } = operation;
  const handler: RequestHandler = async (event) => {
    const { signal, release } = leavingOf(event);
    try {
      if (writes && event.locals.access === 'read')
        throw refuse('read-only', 'This token reads only. Ask for one that may write.');
      const query = readQuery(querySchema, event.url.searchParams);
      const body = bodySchema && readBy(bodySchema, await jsonBody(event.request, limitsOf(operation)), 'invalid-body');
      const client = clientOf(event);
      const answer = await work({ event, query, body, client, signal } as Asked<z.infer<Query>, z.infer<Body>>);
      if (writes) event.locals.store.hasRoom = true;
      if (answer instanceof Response) return answer;
      return answer === undefined ? new Response(null, { status }) : json(answer, { status });
    } catch (error) {
      if (error instanceof StoppedError) return new Response(null, { status: 499 }); // nobody hears it
      // threads write too: an import, a change of a tape
      if (isStoreFull(error)) event.locals.store.hasRoom = false;
      return problemAnswer(problemOf(error));
    } finally {
      release();
    }
  };
  return Object.assign(handler, { operation });
}

function limitsOf({ bodyMegabytes = settings.limits.bodyMegabytes }: Operation) {
  return { mostBytes: bodyMegabytes * 2 ** 20, silenceMs: settings.limits.silenceSeconds * 1000 };
}

/** A query by its schema. What an endpoint does not know is refused, not passed over, where it takes a query at all. */
function readQuery(schema: Schema | undefined, params: URLSearchParams): unknown {
  if (!schema) return undefined;
  const repeated = [...params.keys()].find((name, index, all) => all.indexOf(name) !== index);
  if (repeated !== undefined) throw refuse('invalid-query', `\`${repeated}\` is given twice.`);
  return readBy(schema, Object.fromEntries(params), 'invalid-query');
}
