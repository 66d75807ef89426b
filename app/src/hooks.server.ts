import type { Handle, HandleServerError, RequestEvent, ServerInit } from '@sveltejs/kit';
import { building } from '$app/environment';
import { makeProblem, Refusal } from '$lib/api/problems';
import { foreignPage, wrongHost, type RequestHead } from '$lib/server/auth/origins';
import { Gate } from '$lib/server/auth/gate';
import { LINKED } from '$lib/server/auth/sharing';
import { closeImports, openImports, settleSoon } from '$lib/server/imports/importFile';
import { clearSpools } from '$lib/server/imports/tapeSpool';
import { closeLive } from '$lib/server/live/liveService';
import { openJobs } from '$lib/server/jobs/jobs';
import { JobWorker } from '$lib/server/jobs/jobWorker';
import { log } from '$lib/server/log';
import { isUnused, makeDemo } from '$lib/server/makeDemo';
import { addressOf } from '$lib/server/http/clients';
import { guardedStream } from '$lib/server/http/guardedStream';
import { ANSWER_HEADERS } from '$lib/server/http/headers';
import { problemAnswer } from '$lib/server/http/problem';
import { noteAnswer } from '$lib/server/operation/metrics';
import { settings } from '$lib/server/settings';
import { connectJobQueue, holdStore } from '$lib/server/store/openStore';
import { isStoreFull, type Store } from '$lib/server/store/store';
import { sweep, SWEEP_EVERY_MS } from '$lib/server/sweep';
import { closeLanes, openLanes } from '$lib/server/tasks/lanes';

let store: Store;
let gate: Gate;

export const init: ServerInit = async () => {
  if (building) return; // the build looks at the pages; it has no store
  const held = await holdStore(settings.JAUNTY_STORE, {
    ...{ changed: settleSoon, workFolder: settings.JAUNTY_DATA, readAddress: settings.JAUNTY_STORE_READ },
  });
  store = held.store;
  clearSpools(settings.JAUNTY_DATA);
  await withoutRoom(() => sweep(store, { isStart: true }));
  if (settings.JAUNTY_DEMO === 'on' && (await isUnused(store)))
    await withoutRoom(() => makeDemo(store, (line) => console.log(line)));
  gate = new Gate(store);
  const queue = await connectJobQueue(settings.JAUNTY_STORE);
  if (queue) openJobs(store, queue);
  const worker = queue && settings.JAUNTY_ROLE !== 'web' ? new JobWorker(store, queue) : undefined;
  const sweeping = setInterval(() => void sweep(store).catch(noteFailedSweep), SWEEP_EVERY_MS);
  sweeping.unref();
  process.once('sveltekit:shutdown', () => {
    clearInterval(sweeping);
    void (async () => {
      await worker?.close();
      await Promise.all([closeLanes(), closeImports(), closeLive(), queue?.close()]);
    })().finally(held.release);
  });
};

/** Does what may be left out where the disk is full: the server starts all the same, and reads. */
async function withoutRoom(write: () => Promise<unknown>): Promise<void> {
  try {
    await write();
  } catch (error) {
    if (!isStoreFull(error)) throw error;
    console.log('The disk of the database is full: this server is read-only until there is space.');
  }
}

/** Starts the threads that a page is about to need while the browser still loads its scripts. */
function openThreads({ pathname }: URL): void {
  openLanes();
  if (pathname === '/records') openImports();
}

const noteFailedSweep = (error: unknown) => log.error({ err: error }, 'what was deleted could not be cleared away');

/** Reached without a token: the page that asks for one. */
const SIGN_IN = '/signin';
const SIGNING_IN: readonly string[] = [SIGN_IN, '/signin/provider', '/signin/provider/start', '/signin/provider/end'];

/** A page that is handed over, which a signed link opens. */
const isPageToRead = ({ pathname }: URL): boolean => /^\/read\/\d{1,15}$/.test(pathname);

/** Asked by monitoring, which has no token. */
const HEALTH: readonly string[] = ['/api/health', '/api/health/live'];
const ASKED_OF_WORKERS = [...HEALTH, '/api/metrics'];

export const handle: Handle = async (asked) => {
  const started = performance.now();
  const answer = await answered(asked);
  const { request, route } = asked.event;
  noteAnswer(request.method, route.id, answer.status, (performance.now() - started) / 1000);
  return answer;
};

const answered: Handle = async ({ event, resolve }) => {
  const { request, url, locals } = event;
  const head: RequestHead = { method: request.method, path: url.pathname, header: (name) => request.headers.get(name) };
  const reason = (gate.isShut ? undefined : wrongHost(head)) ?? foreignPage(head);
  if (reason !== undefined) return withHeaders(problemAnswer(makeProblem('not-allowed', reason)), url.pathname);
  if (settings.JAUNTY_ROLE === 'worker' && !ASKED_OF_WORKERS.includes(url.pathname))
    return withHeaders(
      problemAnswer(makeProblem('unknown-address', 'This server works for others. Ask one that answers requests.')),
      url.pathname,
    );
  try {
    const isLinked = isPageToRead(url) && request.method === 'GET' && (await gate.isLinked(url));
    const visitor = isLinked ? LINKED : await gate.visitor(request, event.cookies, addressOf(event));
    const isOpen = SIGNING_IN.includes(url.pathname) || (HEALTH.includes(url.pathname) && request.method === 'GET');
    if (!visitor && !isOpen) return withHeaders(whereToSignIn(request, url), url.pathname);
    Object.assign(locals, { store, gate, who: visitor?.who ?? '', access: visitor?.access ?? 'read' });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return withHeaders(problemAnswer(error.problem), url.pathname);
  }
  if (isPageRequest(request, url)) openThreads(url);
  const answer = await resolve(event, {
    filterSerializedResponseHeaders: (name) => name === 'content-type',
    preload: ({ type, path }) => type !== 'asset' && (type !== 'font' || FONTS_OF_EACH_PAGE.test(path)),
  });
  return withHeaders(whileAllowed(asProblem(answer, url.pathname, request.method), event), url.pathname);
};

/** Preloaded with each page, so that its lines do not move when the fonts arrive. */
const FONTS_OF_EACH_PAGE = /latin-opsz-(normal|italic).*woff2$|mono-latin-400.*woff2$/;

/** Whether a browser goes to a page. */
const isPageRequest = (request: Request, { pathname }: URL): boolean =>
  request.method === 'GET' &&
  (request.headers.get('accept') ?? '').includes('text/html') &&
  !pathname.startsWith('/api/');

const STREAMS = /^(text\/event-stream|application\/x-ndjson)/;

/** An answer that stays open ends when its client's token is revoked or its session ends. */
function whileAllowed(answer: Response, { request, cookies, locals }: RequestEvent): Response {
  if (!answer.body || !STREAMS.test(answer.headers.get('content-type') ?? '')) return answer;
  const problem = makeProblem('token-needed', 'Your access was removed while this was open.');
  const isEvents = answer.headers.get('content-type')!.startsWith('text/event-stream');
  const last = isEvents ? `event: problem\ndata: ${JSON.stringify(problem)}\n\n` : `${JSON.stringify({ problem })}\n`;
  const watch = (end: () => void) => gate.watch(request, cookies, locals.access, end);
  return new Response(guardedStream(answer.body, watch, new TextEncoder().encode(last)), answer);
}

/** A browser that goes to a page is sent to where it signs in; a program is told what is missing. */
function whereToSignIn(request: Request, url: URL): Response {
  if (!isPageRequest(request, url))
    return problemAnswer(
      makeProblem(
        'token-needed',
        'Send the token as `Authorization: Bearer …`, or as the password of a user of any name.',
      ),
    );
  const to = new URLSearchParams({ to: url.pathname + url.search });
  return new Response(null, { status: 303, headers: { location: `${SIGN_IN}?${to}` } });
}

/** The framework's own refusals of the interface, as problems like all others. */
function asProblem(answer: Response, path: string, method: string): Response {
  if (!path.startsWith('/api/') || answer.headers.get('content-type')?.includes('problem+json')) return answer;
  if (answer.status === 404)
    return problemAnswer(
      makeProblem('unknown-address', `There is no ${path.slice(0, 200)}. GET /api/openapi.json tells what there is.`),
    );
  if (answer.status !== 405) return answer;
  const problem = problemAnswer(makeProblem('wrong-method', `${path.slice(0, 200)} does not take ${method}.`));
  problem.headers.set('allow', answer.headers.get('allow') ?? '');
  return problem;
}

function withHeaders(answer: Response, path: string): Response {
  const { headers } = answer;
  for (const [name, value] of ANSWER_HEADERS) headers.set(name, value);
  // pages hold figures too
  if (!headers.has('cache-control') || path.startsWith('/api/')) headers.set('cache-control', 'no-store');
  // data is no document, whatever a browser takes it for
  if (path.startsWith('/api/'))
    headers.set('content-security-policy', "default-src 'none'; frame-ancestors 'none'; sandbox");
  return answer;
}

export const handleError: HandleServerError = ({ error, event, status }) => {
  if (status >= 500) log.error({ err: error, path: event.url.pathname }, 'a page failed');
  return { message: status === 404 ? 'There is no such page.' : 'Unexpected error.' };
};
