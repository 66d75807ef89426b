import type { AddressInfo } from 'node:net';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { makeProblem } from '$lib/api/problems';
import { wrongHost } from './auth/origins';
import { ANSWER_HEADERS } from './http/headers';
import { feedSockets } from './live/feedSocket';
import { settings } from './settings';

/* The server before the framework: what holds for everything that is asked, the framework's own files included. */

/** An idle connection stays open longer than most proxies and clients keep one for reuse: none writes into a closed one. */
const KEPT_ALIVE_MS = 75_000;

type Handler = (request: IncomingMessage, response: ServerResponse) => void;

/** How an address is written in front of a port. */
const hostText = (host: string): string => (host.includes(':') ? `[${host}]` : host);

/** Where the server is reached. */
export const address = (): string => `http://${hostText(settings.HOST)}:${settings.PORT}`;

/**
 * Serves an application.
 * @param handler  of the framework
 * @throws where the address cannot be listened at, in a sentence
 */
export async function serve(handler: Handler): Promise<Server> {
  const server = createServer((request, response) => {
    const header = (name: string) => {
      const value = request.headers[name];
      return typeof value === 'string' ? value : null;
    };
    const reason =
      settings.JAUNTY_TOKEN === undefined
        ? wrongHost({ method: request.method ?? '', path: request.url ?? '', header })
        : undefined;
    for (const [name, value] of ANSWER_HEADERS) response.setHeader(name, value);
    if (header('x-forwarded-proto') === 'https') response.setHeader('strict-transport-security', 'max-age=31536000');
    if (reason !== undefined) {
      const problem = makeProblem('not-allowed', reason);
      response.writeHead(problem.status, { 'content-type': 'application/problem+json' });
      return void response.end(JSON.stringify(problem));
    }
    // the framework hands on no body without a type; a file that a program sends often has none
    request.headers['content-type'] ??= 'application/octet-stream';
    handler(request, response);
  });
  server.on(
    'upgrade',
    feedSockets(() => (server.address() as AddressInfo).port, settings.HOST),
  );
  // a long upload is no attack: whoever reads a body ends it where nothing comes for long
  server.requestTimeout = 0;
  server.headersTimeout = 60_000;
  server.keepAliveTimeout = KEPT_ALIVE_MS;
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => reject(new Error(trouble(error), { cause: error })));
    server.listen(settings.PORT, settings.HOST, resolve);
  });
  return server;
}

function trouble({ code, message }: NodeJS.ErrnoException): string {
  if (code === 'EADDRINUSE') return `Port ${settings.PORT} is taken. Set PORT to another one.`;
  if (code === 'EACCES') return `Port ${settings.PORT} may not be listened at. Set PORT to one above 1023.`;
  if (code === 'EADDRNOTAVAIL') return `This machine has no address ${settings.HOST}. Set HOST to one of its own.`;
  return message;
}

/** Lets what is under way end, for a moment, then goes. */
export function shutDown(server: Server): void {
  server.close();
  server.closeIdleConnections();
  // the application ends its imports and tasks, and then has nothing more to do
  process.emit('sveltekit:shutdown' as 'exit', 0);
  setTimeout(() => server.closeAllConnections(), 1000).unref();
  setTimeout(() => process.exit(0), 5000).unref();
}
