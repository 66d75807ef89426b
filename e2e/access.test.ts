import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BrowserContext, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { freshBrowser, pageSays, type FreshBrowser } from './browser.js';
import { Feeder } from './feeder.js';
import { isInFolder, serve, type Served } from './servedApp.js';
import { origin as ownOrigin } from './ownServer';

/* Who gets in, what he may, and what pages of other sites may not. */

const TOKEN = 'a-token-of-the-keeper';
let folder: string;
let server: Served;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-access-'));
  server = await serve(folder, { JAUNTY_DEMO: 'off', JAUNTY_TOKEN: TOKEN, JAUNTY_LOG: 'info' });
});
afterAll(() => {
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

const bearer = (token: string) => ({ authorization: `Bearer ${token}` });
const at = (path: string, token: string | undefined, init: RequestInit = {}) =>
  fetch(server.origin + path, { ...init, headers: { ...init.headers, ...(token !== undefined && bearer(token)) } });
const made = async (name: string, access: string): Promise<string> => {
  const answer = await at('/api/tokens', TOKEN, { method: 'POST', body: JSON.stringify({ name, access }) });
  expect(answer.status).toBe(201);
  return ((await answer.json()) as { token: string }).token;
};
const trade = 'time,price\n1770021000,84.2\n';
const enter = (name: string, token: string) =>
  at(`/api/tapes?name=${name}&file=trades.csv`, token, { method: 'POST', body: trade });
const statusOf = async (answer: Promise<Response>) => (await answer).status;

describe('a server with a token', () => {
  it('lets in whoever brings it, as a bearer or as a password of any name, and nobody else', async () => {
    expect(await statusOf(at('/api/tapes', TOKEN))).toBe(200);
    const basic = { authorization: `Basic ${Buffer.from(`anybody:${TOKEN}`).toString('base64')}` };
    expect(await statusOf(at('/api/tapes', undefined, { headers: basic }))).toBe(200);
    const answer = await at('/api/tapes', undefined);
    expect([answer.status, answer.headers.get('www-authenticate')]).toEqual([401, 'Bearer realm="Jaunty Ledger"']);
    expect(await answer.json()).toMatchObject({ code: 'token-needed' });
    expect(await statusOf(at('/api/tapes', 'something else'))).toBe(401);
  });

  it('slows down whoever guesses, logs it, and keeps nobody waiting who was right', async () => {
    const guesses = await Promise.all(['a', 'b', 'c', 'd'].map((word) => statusOf(at('/api/tapes', `guess-${word}`))));
    expect(guesses).toContain(429);
    expect(await statusOf(at('/api/tapes', TOKEN))).toBe(200);
    expect(server.printed()).toContain('"msg":"a wrong token"');
  });

  it('opens one page, and nothing else, to whoever has its link, until it ends', async () => {
    const page = await at('/api/handovers', TOKEN, {
      method: 'POST',
      body: JSON.stringify({ title: 'For the board', body: {} }),
    });
    const { id } = (await page.json()) as { id: number };
    const made = await at(`/api/handovers/${id}/links`, TOKEN, { method: 'POST', body: JSON.stringify({ days: 1 }) });
    const { id: link, address, until } = (await made.json()) as { id: string; address: string; until: string };
    expect(Date.parse(until) - Date.now()).toBeGreaterThan(86_000_000);
    const read = await at(address, undefined);
    expect([read.status, await read.text()]).toEqual([200, expect.stringContaining('For the board')]);
    const query = address.slice(address.indexOf('?'));
    for (const path of [
      `/read/${id + 1}${query}`,
      `/read/${id}${query.replace(/link=./, 'link=_')}`,
      `/api/handovers${query}`,
    ])
      expect(await statusOf(at(path, undefined, { redirect: 'manual' }))).not.toBe(200);
    // and until it is revoked
    const links = (await (await at(`/api/handovers/${id}/links`, TOKEN)).json()) as { id: string }[];
    expect(links).toMatchObject([{ id: link, madeBy: 'keeper', until }]);
    expect(await statusOf(at(`/api/handovers/${id}/links/${link}`, TOKEN, { method: 'DELETE' }))).toBe(204);
    expect(await statusOf(at(address, undefined, { redirect: 'manual' }))).not.toBe(200);
    expect(await statusOf(at(`/api/handovers/${id}/links/${link}`, TOKEN, { method: 'DELETE' }))).toBe(404);
  });

  it('has tokens that only read, and takes them back', async () => {
    const token = await made('reader', 'read');
    expect(await statusOf(at('/api/tapes', token))).toBe(200);
    const refused = await enter('NO', token);
    expect([refused.status, await refused.json()]).toMatchObject([403, { code: 'read-only' }]);
    // to work something out changes nothing
    await enter('SMALL', TOKEN);
    const body = JSON.stringify({ tape: 'SMALL', bars: '1 hour', entries: ['x = close'] });
    expect(await statusOf(at('/api/columns', token, { method: 'POST', body }))).toBe(200);
    expect(await statusOf(at('/api/tokens', token))).toBe(403);
    const list = await (await at('/api/tokens', TOKEN)).json();
    expect(list).toMatchObject([{ name: 'reader', access: 'read', usedAt: expect.any(String) }]);
    expect(JSON.stringify(list)).not.toContain(token);
    expect(await statusOf(at('/api/tokens/reader', TOKEN, { method: 'DELETE' }))).toBe(204);
    await expect.poll(() => statusOf(at('/api/tapes', token)), { timeout: 10_000, interval: 700 }).toBe(401);
  });

  it('writes down who entered, changed, deleted and handed out what', async () => {
    await at('/api/tapes/SMALL', TOKEN, { method: 'PATCH', body: '{"name":"TINY"}' });
    await at('/api/tapes/TINY', TOKEN, { method: 'DELETE' });
    const acts = () =>
      server
        .printed()
        .split('\n')
        .filter((line) => line.includes('"act"') && line.endsWith('}'))
        .map((line) => JSON.parse(line) as Record<string, unknown>);
    // what is printed arrives a little later
    await vi.waitFor(() =>
      expect(acts()).toEqual(
        expect.arrayContaining([
          expect.objectContaining({ who: 'keeper', act: 'entered', tapes: ['SMALL'], file: 'trades.csv' }),
          expect.objectContaining({ who: 'keeper', act: 'changed', tape: 'SMALL', renamed: 'TINY' }),
          expect.objectContaining({ who: 'keeper', act: 'deleted', tape: 'TINY' }),
        ]),
      ),
    );
    expect(server.printed()).not.toContain(TOKEN);
  });
});

describe('what is hidden in a request', () => {
  const signInAt = (to: string) =>
    fetch(`${server.origin}/signin?to=${to}`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded', origin: server.origin },
      body: new URLSearchParams({ token: TOKEN }),
      redirect: 'manual',
    });

  it.each(['%2F%09%2Fhost', '%2F%2Fhost', '%5C%5Chost', 'https%3A%2F%2Fhost', '%2F%0D%0A%2Fhost'])(
    'leads nobody elsewhere after sign-in: %s',
    async (to) => {
      const answer = await signInAt(to);
      expect(answer.status).toBeLessThan(400);
      const place = answer.headers.get('location') ?? ((await answer.json()) as { location: string }).location;
      expect(new URL(place, server.origin).origin).toBe(server.origin);
    },
  );

  it('may name the scheme of a token in any case', async () => {
    for (const scheme of ['bearer', 'BEARER'])
      expect(await statusOf(at('/api/tapes', undefined, { headers: { authorization: `${scheme} ${TOKEN}` } }))).toBe(
        200,
      );
  });

  it('asks for liveness without a token', async () => {
    const live = await at('/api/health/live', undefined);
    expect([live.status, await live.json()]).toEqual([200, { alive: true }]);
  });
});

describe('a token that is revoked', () => {
  it('ends what it has open: followers and feeds', async () => {
    await enter('WATCHED', TOKEN);
    const [reader, writer] = [await made('follows', 'read'), await made('feeds', 'write')];
    const query = new URLSearchParams({ rule: '1 hour', entries: 'm = close', version: '0' });
    const followed = await at(`/api/tapes/WATCHED/follow?${query}`, reader);
    const feed = new Feeder(server.origin, 'WATCHED', '?sender=one', 'application/x-ndjson', bearer(writer));
    feed.send([{ seq: 0, time: '2026-03-02T10:00:00Z', price: 84 }]);
    await feed.until(() => feed.safe === 0);
    for (const name of ['follows', 'feeds']) await at(`/api/tokens/${name}`, TOKEN, { method: 'DELETE' });
    expect(await followed.text()).toContain('"code":"token-needed"');
    await feed.until(() => false);
    expect(feed.answers.at(-1)!.problem!.code).toBe('token-needed');
  });
});

it('a tape belongs to who sent it, from its first moment on', async () => {
  const token = await made('sender', 'write');
  await enter('OWNED', token);
  expect(await (await at('/api/tapes/OWNED/sharing', TOKEN)).json()).toMatchObject({ owner: 'sender' });
  // one that is joined stays whose it is
  await at('/api/tapes?name=OWNED&join=yes', TOKEN, { method: 'POST', body: 'time,price\n1770021060,84.3\n' });
  expect(await (await at('/api/tapes/OWNED/sharing', TOKEN)).json()).toMatchObject({ owner: 'sender' });
});

it('a probe that comes past the proxy has an answer', async () => {
  const own = mkdtempSync(join(tmpdir(), 'jaunty-probe-'));
  const probed = await serve(own, { JAUNTY_DEMO: 'off', ADDRESS_HEADER: 'X-Forwarded-For' });
  for (const path of ['/api/health', '/api/health/live', '/api/metrics'])
    expect(await statusOf(fetch(probed.origin + path)), path).toBe(200);
  probed.process.kill('SIGKILL');
  rmSync(own, { recursive: true, force: true });
});

describe('a browser', () => {
  let context: BrowserContext;
  let page: Page;
  let close: FreshBrowser['close'];
  beforeAll(async () => {
    ({ context, page, close } = await freshBrowser());
  });
  afterAll(() => close());
  const says = (words: string) => pageSays(page, words);
  const signIn = async (token: string) => {
    await page.type('input[name="token"]', token);
    await page.click('main button[type="submit"]');
  };

  it('signs in where it wanted to go, stays signed in, and is out with its token', async () => {
    const token = await made('visitor', 'write');
    await page.goto(`${server.origin}/records`);
    await says('Sign in');
    await signIn('not the token at all');
    await says('This token is not known here');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await signIn(token);
    await says('drop some anywhere');
    expect(new URL(page.url()).pathname).toBe('/records');
    const [cookie] = await context.cookies();
    expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Strict' });
    expect(cookie.value).not.toContain(token);
    await page.reload();
    await says('drop some anywhere');
    await at('/api/tokens/visitor', TOKEN, { method: 'DELETE' });
    await page.reload();
    await says('Sign in');
  });

  it('of the keeper makes tokens and takes them back', async () => {
    await page.goto(`${server.origin}/access`);
    await signIn(TOKEN);
    await says('Who gets in');
    await page.type('form[action="?/make"] input[name="name"]', 'desk');
    await page.select('form[action="?/make"] select[name="access"]', 'read');
    await page.click('form[action="?/make"] button');
    await says('The token of desk is');
    const token = await page.$eval('p[role="status"] code', (element) => element.textContent!);
    expect(await statusOf(at('/api/tapes', token))).toBe(200);
    await page.click('button[aria-label="Revoke the token of desk"]');
    await page.waitForFunction(() => !document.querySelector('button[aria-label="Revoke the token of desk"]'));
    await says('took back a token: token desk');
    await expect.poll(() => statusOf(at('/api/tapes', token)), { timeout: 10_000, interval: 700 }).toBe(401);
  });
});

/** The head of an answer to a request that is written by hand: `fetch` sets headers of its own. */
function headOf(path: string, headers: Record<string, string>, origin = ownOrigin): Promise<string> {
  const { port } = new URL(origin);
  return new Promise((resolve) => {
    const socket = connect(Number(port), '127.0.0.1');
    let answer = '';
    const all = { host: `127.0.0.1:${port}`, connection: 'close', ...headers };
    const lines = Object.entries(all).map(([name, value]) => `${name}: ${value}`);
    socket.write(`GET ${path} HTTP/1.1\r\n${lines.join('\r\n')}\r\n\r\n`);
    socket.on('data', (data) => (answer += data.toString('latin1')));
    socket.on('close', () => resolve(answer.split('\r\n\r\n')[0].toLowerCase()));
  });
}

describe('pages of other sites', () => {
  const figures = '/api/tapes/KELP/bars?rule=1+day';
  it.each<[string, string, Record<string, string>, number]>([
    [
      'a picture',
      figures,
      { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors', 'sec-fetch-dest': 'image' },
      403,
    ],
    ['a sister of the same name', figures, { 'sec-fetch-site': 'same-site', 'sec-fetch-mode': 'cors' }, 403],
    ['a script that says where it is from', figures, { origin: 'http://evil.example' }, 403],
    [
      'a page in a frame',
      '/records',
      { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'iframe' },
      403,
    ],
    [
      'a link to figures',
      figures,
      { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' },
      403,
    ],
    [
      'a link to a page',
      '/records',
      { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate', 'sec-fetch-dest': 'document' },
      200,
    ],
    ['our own page', figures, { 'sec-fetch-site': 'same-origin', 'sec-fetch-mode': 'cors' }, 200],
    ['an address that is typed', figures, { 'sec-fetch-site': 'none', 'sec-fetch-mode': 'navigate' }, 200],
    ['a name that was bent to us', figures, { host: 'evil.example' }, 403],
    ['the same for a file of the application', '/mark.svg', { host: 'evil.example' }, 403],
  ])('%s', async (_, path, headers, status) => expect(await headOf(path, headers)).toContain(` ${status} `));
});

describe('headers', () => {
  it.each(['/api/tapes', '/records', '/mark.svg', '/api/nothing', '/nothing'])('of %s', async (path) => {
    const head = await headOf(path, {});
    expect(head).toContain('x-content-type-options: nosniff');
    expect(head).toContain('cross-origin-resource-policy: same-origin');
    expect(head).toContain('referrer-policy: same-origin');
    expect(head).not.toContain('access-control-allow-origin');
    if (!path.endsWith('.svg')) expect(head).toContain('cache-control: no-store');
    if (path === '/records') expect(head).toContain("content-security-policy: default-src 'self'");
    expect(head.includes('strict-transport-security')).toBe(false);
    expect(await headOf(path, { 'x-forwarded-proto': 'https' })).toContain('strict-transport-security: max-age=');
  });
});

describe('a start', () => {
  const start = (settings: Record<string, string>, data = folder) =>
    serve(data, { JAUNTY_DEMO: 'off', ...settings }).then(
      (served) => served,
      (error: Error) => error.message,
    );

  it('on a folder that another server has ends with a sentence, and leaves that one alone', async () => {
    expect(await start({})).toContain(`Another server, process ${server.process.pid}, works with the folder`);
    expect(await statusOf(at('/api/tapes', TOKEN))).toBe(200);
  });

  it.each([
    [{ PORT: 'eighty' }, 'PORT: must be a number'],
    [{ HOST: '0.0.0.0' }, 'HOST is 0.0.0.0, which others can reach: set JAUNTY_TOKEN too'],
    [{ HOST: '203.0.113.7', JAUNTY_TOKEN: TOKEN }, 'This machine has no address 203.0.113.7'],
    [{ JAUNTY_TOKEN: 'short' }, 'JAUNTY_TOKEN: needs at least 16 characters'],
  ])('with %j ends with a sentence', async (settings, sentence) => {
    const other = mkdtempSync(join(tmpdir(), 'jaunty-start-'));
    expect(await start(settings, other)).toContain(sentence);
    rmSync(other, { recursive: true });
  });

  it.runIf(isInFolder)('at ::1 is reached there, and keeps its files to itself', async () => {
    const other = mkdtempSync(join(tmpdir(), 'jaunty-start-'));
    const served = await start({ HOST: '::1' }, other);
    if (typeof served === 'string') throw new Error(served);
    const { port } = new URL(served.origin);
    expect((await fetch(`http://[::1]:${port}/api/tapes`)).status).toBe(200);
    expect(served.printed()).toContain(`http://[::1]:${port}`);
    for (const file of ['ledger.sqlite', 'ledger.sqlite-wal', 'lock.sqlite', 'server.pid'])
      expect((statSync(join(other, file)).mode & 0o777).toString(8), file).toBe('600');
    served.process.kill('SIGKILL');
    rmSync(other, { recursive: true, force: true });
  });
});
