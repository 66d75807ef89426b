import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';

/* What holds answers against the description finds those that do not follow it. */

const schema = { type: 'object', required: ['name'], properties: { name: { type: 'string' } } };
const description = {
  paths: {
    '/api/things/{name}': { get: { responses: { 200: { content: { 'application/json': { schema } } } } } },
  },
  components: { schemas: {} },
};
const answers = new Map<string, [status: number, type: string, body: string]>([
  ['/api/openapi.json', [200, 'application/json', JSON.stringify(description)]],
  ['/api/things/right', [200, 'application/json', '{"name":"a"}']],
  ['/api/things/status', [418, 'application/json', '{}']],
  ['/api/things/type', [200, 'text/html', '<p>']],
  ['/api/things/schema', [200, 'application/json', '{"name":1}']],
  ['/api/unknown', [200, 'application/json', '{}']],
]);

let server: Server;
let origin: string;
beforeAll(async () => {
  server = createServer(({ url }, response) => {
    const [status, type, body] = answers.get(url!)!;
    response.writeHead(status, { 'content-type': type }).end(body);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());

it('lets an answer pass that follows the description', async () =>
  expect((await fetch(`${origin}/api/things/right`)).status).toBe(200));

it.each([
  ['/api/things/status', 'answers 418, which is not described'],
  ['/api/things/type', 'as text/html, not as application/json'],
  ['/api/things/schema', 'name must be string'],
  ['/api/unknown', 'is not described at all'],
])('stops at %s', async (path, fault) => expect(fetch(origin + path)).rejects.toThrow(fault));
