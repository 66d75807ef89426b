import Ajv from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import type { Page } from 'puppeteer-core';

/*
 * Every answer of the interface that a test hears is held against its own description: the status has to be told of there, with
 * the type that came, and JSON has to follow the schema. So whatever the tests do tests the description too.
 */

interface Media {
  schema: Record<string, unknown>;
}
interface Operation {
  responses: Record<string, { content?: Record<string, Media> }>;
}
interface Description {
  paths: Record<string, Record<string, Operation>>;
  components: { schemas: Record<string, Record<string, unknown>> };
}

const plainFetch = globalThis.fetch;
const descriptions = new Map<string, Promise<Description | undefined>>();
const ajv = addFormats(new Ajv({ strict: false }));

/** The description that a server gives of itself; nothing where it lets nobody have it. */
function describedBy(origin: string, init: RequestInit | undefined): Promise<Description | undefined> {
  let known = descriptions.get(origin);
  if (!known) {
    known = plainFetch(`${origin}/api/openapi.json`, { headers: init?.headers }).then(async (answer) =>
      answer.ok ? ((await answer.json()) as Description) : undefined,
    );
    descriptions.set(origin, known);
    void known.then(
      (description) => description ?? descriptions.delete(origin),
      () => descriptions.delete(origin),
    );
  }
  return known;
}

function operationOf({ paths }: Description, method: string, pathname: string): Operation | undefined {
  const fits = (template: string) =>
    new RegExp(`^${template.replaceAll('.', '\\.').replaceAll(/\{\w+\}/g, '[^/]+')}$`).test(pathname);
  const templates = Object.keys(paths).filter(fits);
  const template = templates.find((one) => !one.includes('{')) ?? templates[0];
  return template === undefined ? undefined : paths[template][method.toLowerCase()];
}

/** What is wrong with an answer by the description; nothing if nothing is. @param body  of JSON answers */
function faultIn(
  description: Description,
  asked: { method: string; pathname: string },
  answer: { status: number; type: string },
  body: unknown,
): string | undefined {
  const method = asked.method === 'HEAD' ? 'GET' : asked.method;
  const operation = operationOf(description, method, asked.pathname);
  if (!operation) return answer.status === 404 || answer.status === 405 ? undefined : 'is not described at all';
  const response = operation.responses[String(answer.status)];
  if (!response) return `answers ${answer.status}, which is not described`;
  if (asked.method === 'HEAD') return undefined;
  const type = answer.type.split(';')[0];
  const types = Object.keys(response.content ?? {});
  if (types.length === 0)
    return type === '' ? undefined : `answers ${answer.status} with ${type} where nothing is to come`;
  const media = response.content?.[type];
  if (!media) return `answers ${answer.status} as ${type || 'nothing'}, not as ${types.join(' or ')}`;
  if (body === undefined) return undefined;
  const { $ref, ...schema } = media.schema as { $ref?: string };
  const whole = $ref ? description.components.schemas[$ref.split('/').at(-1)!] : schema;
  const check = ajv.compile(whole);
  return check(body) ? undefined : `answers ${ajv.errorsText(check.errors).slice(0, 500)}`;
}

const isOurs = (url: URL): boolean => url.hostname === '127.0.0.1' && url.pathname.startsWith('/api/');

/** Tests send JSON as text: it has the type that the interface asks for, unless a test says another one. */
function typed(init: RequestInit | undefined): RequestInit | undefined {
  if (typeof init?.body !== 'string' || !/^[[{]/.test(init.body)) return init;
  const headers = new Headers(init.headers);
  if (!headers.has('content-type')) headers.set('content-type', 'application/json');
  return { ...init, headers };
}

globalThis.fetch = async (input, asked) => {
  const init = typed(asked);
  const answer = await plainFetch(input, init);
  const url = new URL(input instanceof Request ? input.url : input);
  if (!isOurs(url)) return answer;
  const method = init?.method ?? (input instanceof Request ? input.method : 'GET');
  const type = answer.headers.get('content-type') ?? '';
  const body: unknown = type.includes('json') && !type.includes('ndjson') ? await answer.clone().json() : undefined;
  const description = await describedBy(url.origin, init);
  const fault =
    description && faultIn(description, { method, pathname: url.pathname }, { status: answer.status, type }, body);
  if (fault) throw new Error(`${method} ${url.pathname} ${fault}`);
  return answer;
};

/** Holds what a page is answered against the description, by status and type. @param told  of what is wrong */
export function holdToDescription(page: Page, told: (fault: string) => void): void {
  page.on('response', (answer) => {
    const url = new URL(answer.url());
    if (!isOurs(url)) return;
    const method = answer.request().method();
    const type = answer.headers()['content-type'] ?? '';
    void describedBy(url.origin, undefined).then((description) => {
      const fault =
        description &&
        faultIn(description, { method, pathname: url.pathname }, { status: answer.status(), type }, undefined);
      if (fault) told(`${method} ${url.pathname} ${fault}`);
    });
  });
}
