import { catalogue } from '@jaunty-ledger/core';
import { z } from 'zod';
import { LINES } from '$lib/api/ask';
import { LedgerFile } from '$lib/api/ledgers';
import { Problem, PROBLEMS, type ProblemCode } from '$lib/api/problems';
import { TABLE_FORMATS } from '@jaunty-ledger/files/tables/tableWriter';
import type { Endpoint, Operation } from './endpoint';

type Schema = z.ZodType;

const TEXT_TYPES = {
  text: 'text/plain',
  icalendar: 'text/calendar',
  metrics: 'application/openmetrics-text',
} as const;

const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;

/** Every route file, by its path below the folder of routes. */
const ROUTES = import.meta.glob<Record<string, unknown>>('../../../routes/api/**/+server.ts');

/** What any endpoint may be refused with. */
const COMMON: readonly ProblemCode[] = [
  'not-allowed',
  'token-needed',
  'too-many-guesses',
  'too-busy',
  'store-busy',
  'internal-error',
];

/** What each endpoint does, by its method and address. Two schemas of zod differ in what a request writes and what comes. */
async function operations(): Promise<{ path: string; method: string; operation: Operation }[]> {
  const found = [];
  for (const [file, load] of Object.entries(ROUTES)) {
    const path = file
      .replace(/^.*\/routes/, '')
      .replace(/\/\+server\.ts$/, '')
      .replaceAll(/\[(\w+)\]/g, '{$1}');
    const module = await load();
    for (const method of METHODS) {
      const handler = module[method] as Endpoint | undefined;
      if (handler) found.push({ path, method: method.toLowerCase(), operation: handler.operation });
    }
  }
  return found.sort((a, b) => a.path.localeCompare(b.path));
}

/** The interface in OpenAPI 3.1, made from what each route says of itself, and from the catalogue. */
export async function openApi() {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { path, method, operation } of await operations())
    (paths[path] ??= {})[method] = described(path, operation);
  return {
    openapi: '3.1.0',
    info: { title: 'Jaunty Ledger', version: '1', description: 'Refusals are application/problem+json (RFC 9457).' },
    paths,
    components: {
      schemas: { LedgerFile: schemaOf(LedgerFile, 'input'), Problem: schemaOf(Problem, 'output') },
    },
    'x-functions': [...catalogue.values()].map(({ name, sentence, example }) => ({ name, sentence, example })),
  };
}

const schemaOf = (schema: Schema, io: 'input' | 'output') => z.toJSONSchema(schema, { io, unrepresentable: 'any' });

const content = (types: readonly string[], schema: unknown) =>
  Object.fromEntries(types.map((type) => [type, { schema }]));

function described(
  path: string,
  { says, query, body, takesFile, takesLines, answer, tellsShare, isList, status, refuses = [], writes }: Operation,
) {
  const inPath = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: 'string' },
  }));
  const codes: ProblemCode[] = [
    ...COMMON,
    ...refuses,
    ...(query || inPath.length > 0 ? (['invalid-query'] as const) : []),
    ...(body ? (['invalid-body', 'wrong-type'] as const) : []),
    ...(body || takesFile ? (['invalid-query', 'too-large', 'sender-silent', 'broken-body'] as const) : []),
    ...(writes ? (['read-only', 'store-failed'] as const) : []),
    ...(answer === 'table' ? (['not-acceptable'] as const) : []),
  ];
  return {
    summary: says,
    parameters: [...inPath, ...(query ? parametersOf(query) : [])],
    ...(body && { requestBody: { required: true, content: content(['application/json'], schemaOf(body, 'input')) } }),
    ...(takesFile && {
      requestBody: {
        required: true,
        content: content(['application/octet-stream'], { type: 'string', format: 'binary' }),
      },
    }),
    ...(takesLines && {
      requestBody: {
        required: true,
        content: content(['application/x-ndjson', 'text/csv'], { type: 'string', description: 'A record a line.' }),
      },
    }),
    responses: { ...refusals(codes), ...withListHeaders(success(says, answer, status, tellsShare), isList) },
  };
}

function parametersOf(query: Schema) {
  const { properties = {}, required = [] } = schemaOf(query, 'input') as {
    properties?: Record<string, unknown>;
    required?: string[];
  };
  return Object.entries(properties).map(([name, schema]) => ({
    name,
    in: 'query',
    required: required.includes(name),
    schema,
  }));
}

function success(says: string, answer: Operation['answer'], status = answer ? 200 : 204, tellsShare = false) {
  if (answer === undefined) return { [status]: { description: says } };
  if (answer === 'text' || answer === 'icalendar' || answer === 'metrics') {
    const type = TEXT_TYPES[answer];
    return { [status]: { description: says, content: content([type], { type: 'string' }) } };
  }
  if (answer === 'table') return { [status]: { description: says, content: content(Object.keys(TABLE_FORMATS), {}) } };
  if ('lines' in answer || 'events' in answer) {
    const [type, schema] =
      'lines' in answer ? ['application/x-ndjson', answer.lines] : ['text/event-stream', answer.events];
    const one = schemaOf(schema, 'output');
    return {
      [status]: {
        description: says,
        content: content([type], { type: 'string', description: EACH_SAYS, 'x-each': one }),
      },
    };
  }
  const lines = tellsShare && content([LINES], { type: 'string', description: LINES_SAY });
  return {
    [status]: {
      description: says,
      content: { ...content(['application/json'], schemaOf(answer, 'output')), ...lines },
    },
  };
}

/** What the answer of a list has beside its lines. */
function withListHeaders(responses: Record<string, object>, isList = false): Record<string, object> {
  if (!isList) return responses;
  const text = (description: string, type: string) => ({ description, schema: { type } });
  const headers = {
    Link: text('The next stretch, as `<address>; rel="next"` (RFC 8288); absent after the last.', 'string'),
    'X-Total-Count': text('How many there are in all.', 'integer'),
  };
  return Object.fromEntries(Object.entries(responses).map(([status, answer]) => [status, { ...answer, headers }]));
}

const EACH_SAYS =
  'Streams until the connection is closed; `x-each` is what each line, or the data of each event, holds.';

const LINES_SAY =
  'Lines of JSON where they are accepted: {"share": 0.4} now and then while it takes long, at last {"answer": ...} or {"problem": ...}.';

/** Refusals by their status, each with the codes that it may have. */
function refusals(codes: readonly ProblemCode[]) {
  const problem = content(['application/problem+json'], { $ref: '#/components/schemas/Problem' });
  const byStatus = new Map<number, Set<ProblemCode>>();
  for (const code of codes) {
    const { status } = PROBLEMS[code];
    byStatus.set(status, (byStatus.get(status) ?? new Set()).add(code));
  }
  return Object.fromEntries(
    [...byStatus].map(([status, some]) => [
      status,
      { description: `A refusal: ${[...some].join(', ')}.`, content: problem },
    ]),
  );
}
