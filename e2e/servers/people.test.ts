import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { BrowserContext, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { freshBrowser, pageSays, type FreshBrowser } from '../browser';
import { startProvider } from '../../scripts/identityProvider.mjs';
import { csvOf, trades } from '../follower';
import { databaseOf, serve, type Served } from '../servedApp';

/* People with names: how they sign in, what is theirs, what others may do with it, and what is noted of what they do. */

const TOKEN = 'a-token-of-the-keeper';
const keeper = { authorization: `Bearer ${TOKEN}` };
const PASSWORDS: Record<string, string> = {
  anna: 'seven small boats',
  ben: 'a net of nine yarns',
  ruth: 'rope and tar, tar',
};

describe('people', () => {
  let folder: string;
  let provider: Awaited<ReturnType<typeof startProvider>>;
  /** One server; two of one database where there is one on this machine. */
  let servers: Served[];
  let origin: string;
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-people-'));
    provider = await startProvider({ forged: 'mallory' });
    const settings: Record<string, string> = {
      ...{ JAUNTY_DEMO: 'off', JAUNTY_TOKEN: TOKEN, JAUNTY_OIDC_ISSUER: provider.issuer },
      ADDRESS_HEADER: 'x-forwarded-for',
      ...{ JAUNTY_OIDC_CLIENT: provider.client, JAUNTY_OIDC_SECRET: provider.secret },
    };
    if (inject('databasePort') > 0) settings.JAUNTY_STORE = await databaseOf(folder);
    const names = inject('databasePort') > 0 ? ['first', 'second'] : ['first'];
    servers = await Promise.all(names.map((name) => serve(join(folder, name), settings)));
    origin = servers[0].origin;
    for (const [name, access] of Object.entries({ anna: 'write', ben: 'write', ruth: 'read' }))
      expect(await statusOf(ask('/api/people', keeper, 'POST', { name, access, password: PASSWORDS[name] }))).toBe(201);
  });
  afterAll(() => {
    for (const { process } of servers) process.kill('SIGKILL');
    provider.end();
    rmSync(folder, { recursive: true, force: true });
  });

  type Headers = Record<string, string>;
  const ask = (path: string, headers: Headers, method = 'GET', body?: object | string, at = origin) =>
    fetch(at + path, {
      method,
      headers,
      redirect: 'manual',
      body: typeof body === 'object' ? JSON.stringify(body) : body,
    });
  const statusOf = async (answer: Promise<Response>) => (await answer).status;
  async function signIn(name: string, password: string): Promise<{ status: number; headers: Headers }> {
    const body = new URLSearchParams({ name, token: password });
    const answer = await fetch(`${origin}/signin`, {
      ...{ method: 'POST', body, redirect: 'manual' },
      headers: { origin, accept: 'text/html' },
    });
    const cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
    return { status: answer.status, headers: { cookie } };
  }
  /** Where the book opens. */
  const first = async (who: Headers) => (await ask('/', who)).headers.get('location');
  const signedIn = async (name: string) => (await signIn(name, PASSWORDS[name])).headers;

  it('sign in by name and password, on all servers at once, until they sign out', async () => {
    for (const [name, password] of [
      ['anna', 'seven small boat'],
      ['nobody', PASSWORDS.anna],
      ['Anna', PASSWORDS.anna],
      ['anna', ''],
    ]) {
      const { status, headers } = await signIn(name, password);
      expect([status, headers.cookie]).toEqual([expect.toSatisfy((code: number) => [401, 429].includes(code)), '']);
      await new Promise((resolve) => setTimeout(resolve, 600)); // whoever guesses is slowed down
    }
    await expect.poll(async () => (await signIn('anna', PASSWORDS.anna)).status, { timeout: 20_000 }).toBe(303);
    const anna = await signedIn('anna');
    for (const server of servers)
      expect(await statusOf(ask('/api/tapes', anna, 'GET', undefined, server.origin))).toBe(200);
    expect(await statusOf(ask('/api/people', anna))).toBe(403);
    const out = await fetch(`${origin}/access?/signOut`, {
      ...{ method: 'POST', body: new URLSearchParams(), redirect: 'manual' },
      headers: { ...anna, origin, accept: 'text/html' },
    });
    expect(out.status).toBe(303);
    for (const server of servers)
      expect(await statusOf(ask('/api/tapes', anna, 'GET', undefined, server.origin))).toBe(401);
  });

  it('are slowed down by their name too, wherever wrong passwords come from, and have a safer cookie over TLS', async () => {
    const from = async (address: string, name: string, password: string, headers: Headers = {}) =>
      fetch(`${origin}/signin`, {
        ...{ method: 'POST', body: new URLSearchParams({ name, token: password }), redirect: 'manual' },
        headers: { origin, accept: 'text/html', 'x-forwarded-for': address, ...headers },
      });
    const wrong = await Promise.all([1, 2, 3, 4].map((host) => from(`10.0.0.${host}`, 'ben', 'not his at all')));
    expect(wrong.map(({ status }) => status)).toContain(401);
    expect((await from('10.0.0.9', 'ben', 'nor is this')).status).toBe(429);
    await expect.poll(async () => (await from('10.0.0.9', 'ben', PASSWORDS.ben)).status, { timeout: 30_000 }).toBe(303);
    const secure = await from('10.0.0.8', 'ben', PASSWORDS.ben, { 'x-forwarded-proto': 'https' });
    expect(secure.headers.get('set-cookie')).toMatch(/^__Host-jaunty-session=.*Path=\/.*Secure/);
  });

  it('receive an error for a cursor or a limit that no list has', async () => {
    const cursor = (keys: unknown) => Buffer.from(JSON.stringify(keys)).toString('base64url');
    for (const query of [
      ...['limit=1000000000', 'limit=0', 'limit=-1', 'cursor=%00', 'cursor=nothing', 'find=a&find=b'],
      ...[['x', 'y'], [1], [1, 1e300], [1, 1.5], { length: 2 }, null].map((keys) => `cursor=${cursor(keys)}`),
    ])
      for (const list of ['ledgers', 'pages', 'handovers'])
        expect(await statusOf(ask(`/api/${list}?${query}`, keeper)), `${list} ${query}`).toBe(400);
    expect(await statusOf(ask(`/api/tapes?cursor=${cursor([1])}`, keeper))).toBe(400);
    for (const find of ['%00', '%25_%5C', "'; drop table ledger", '\u{1f600}'])
      expect(await statusOf(ask(`/api/ledgers?find=${find}&tape=${find}`, keeper)), find).toBe(200);
  });

  it('own what they make, and say whether others may change it', async () => {
    const [anna, ben, ruth] = [await signedIn('anna'), await signedIn('ben'), await signedIn('ruth')];
    const enter = (who: Headers, query: string) =>
      ask(`/api/tapes?kind=ticks&zone=UTC&${query}`, who, 'POST', csvOf(trades(50)));
    expect(await statusOf(enter(ruth, 'name=HERS'))).toBe(403);
    expect(await statusOf(enter(anna, 'name=HERS'))).toBe(201);
    const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
    const ledger = { title: 'Hers', body: { tape: 'HERS', rule: '1 hour', view: null, lanes } };
    const made = (await (await ask('/api/ledgers', anna, 'POST', ledger)).json()) as { id: number; version: number };
    const save = (who: Headers, version: number) =>
      ask(`/api/ledgers/${made.id}`, who, 'PUT', { ...ledger, title: `at ${version}`, version });
    const note = (who: Headers, text: string) => ask('/api/tapes/HERS', who, 'PATCH', { note: text });

    // as long as she says nothing, others may
    expect(await statusOf(note(ben, 'mine too'))).toBe(200);
    expect(await statusOf(save(ben, 1))).toBe(200);
    expect(await (await ask('/api/tapes/HERS/sharing', ben)).json()).toEqual({ owner: 'anna', others: 'change' });
    for (const path of ['/api/tapes/HERS/sharing', `/api/ledgers/${made.id}/sharing`]) {
      expect(await statusOf(ask(path, ben, 'PUT', { others: 'read' }))).toBe(403);
      expect(await (await ask(path, anna, 'PUT', { others: 'read' })).json()).toEqual({
        owner: 'anna',
        others: 'read',
      });
    }
    const refused = await note(ben, 'again');
    expect([refused.status, await refused.json()]).toMatchObject([403, { detail: expect.stringContaining("anna's") }]);
    expect(await statusOf(save(ben, 2))).toBe(403);
    expect(await statusOf(ask(`/api/ledgers/${made.id}?version=2`, ben, 'DELETE'))).toBe(403);
    expect(await statusOf(ask('/api/tapes/HERS', ben, 'DELETE'))).toBe(403);
    expect(await statusOf(enter(ben, 'name=HERS&join=yes'))).toBe(403);
    expect(await statusOf(ask('/api/tapes/HERS/append', ben, 'POST', csvOf(trades(60))))).toBe(403);
    expect(
      await statusOf(ask('/api/tapes/HERS/feed', ben, 'POST', '{"time":"2026-03-01T00:00:00Z","price":1}\n')),
    ).toBe(403);
    expect(await statusOf(ask('/api/tapes/HERS/records', ben))).toBe(200);
    // nor by a calendar that it goes by
    const hours = { zone: 'UTC', session: '09:00-17:00', weekdays: null, closed: null, closeIncluded: false };
    expect(await statusOf(ask('/api/calendars/Quay', anna, 'PUT', { name: 'Quay', ...hours }))).toBe(200);
    expect(await statusOf(ask('/api/tapes/HERS', anna, 'PATCH', { calendar: 'Quay' }))).toBe(200);
    expect(await statusOf(ask('/api/calendars/Quay', ben, 'PUT', { name: 'Quay', ...hours, zone: 'Asia/Tokyo' }))).toBe(
      403,
    );
    expect(await statusOf(save(anna, 2))).toBe(200);
    expect(await statusOf(note(keeper, 'of the keeper'))).toBe(200);
  });

  it('keep a ledger to themselves, and come back to their own', async () => {
    const [anna, ben] = [await signedIn('anna'), await signedIn('ben')];
    const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
    const keep = async (who: Headers, title: string) => {
      const body = { tape: 'HERS', rule: '1 hour', view: null, lanes };
      return (await (await ask('/api/ledgers', who, 'POST', { title, body })).json()) as { id: number };
    };
    /** What a page is given by the server. */
    const given = async (who: Headers, path: string, query = '') =>
      (await ask(`${path}/__data.json${query}`, who)).text();
    const hidden = await keep(anna, 'A first thought');
    const bens = await keep(ben, 'Of ben');
    expect(await first(anna)).toBe(`/ledger/${hidden.id}`);
    expect(await given(anna, '/ledger', '?tape=HERS')).toContain(`/ledger/${hidden.id}`);
    expect(await given(ben, '/ledger', '?tape=HERS')).toContain(`/ledger/${bens.id}`);
    const path = `/api/ledgers/${hidden.id}`;
    expect(await statusOf(ask(`${path}/sharing`, anna, 'PUT', { others: 'nothing' }))).toBe(200);
    expect(await statusOf(ask('/api/tapes/HERS/sharing', anna, 'PUT', { others: 'nothing' }))).toBe(400);
    for (const [at, method] of [
      [path, 'GET'],
      [`${path}?version=1`, 'DELETE'],
      [`${path}/sharing`, 'GET'],
    ]) {
      expect(await statusOf(ask(at, ben, method)), at).toBe(404);
      if (method === 'GET') expect(await statusOf(ask(at, anna)), at).toBe(200);
    }
    for (const page of ['/roll', '/beside', `/ledger/${hidden.id}`]) {
      expect(await given(ben, page), page).not.toContain('A first thought');
      expect(await given(keeper, page), page).toContain('A first thought');
    }
    const titles = async (who: Headers) => (await (await ask('/api/ledgers', who)).json()) as { title: string }[];
    expect((await titles(anna)).map(({ title }) => title)).toContain('A first thought');
    expect((await titles(ben)).map(({ title }) => title)).not.toContain('A first thought');
    expect(await first(await signedIn('ruth'))).toBe(`/ledger/${bens.id}`); // she has none
  });

  it('own their pages, links, formulas and import settings, and what they make can be private from the start', async () => {
    const [anna, ben] = [await signedIn('anna'), await signedIn('ben')];
    const made = async (who: Headers, path: string, body: object) =>
      (await (await ask(path, who, 'POST', body)).json()) as { id: number };
    const examination = { page: 'examine', tape: 'HERS', bars: '1 hour', entry: 'close' };
    for (const [path, body] of [
      ['/api/handovers', {}],
      ['/api/pages', examination],
    ] as const) {
      const { id } = await made(anna, path, { title: 'Hers', body, others: 'read' });
      const change = { title: 'Signed by anna', body, version: 1 };
      expect(await statusOf(ask(`${path}/${id}`, ben, 'PUT', change)), path).toBe(403);
      expect(await statusOf(ask(`${path}/${id}?version=1`, ben, 'DELETE')), path).toBe(403);
      expect(await statusOf(ask(`${path}/${id}`, anna, 'PUT', change)), path).toBe(200);
      const hidden = await made(anna, path, { title: 'For nobody', body, others: 'nothing' });
      expect(await statusOf(ask(`${path}/${hidden.id}`, ben)), path).toBe(404);
      const titles = async (who: Headers) => (await ask(path, who)).text();
      expect([(await titles(ben)).includes('For nobody'), (await titles(anna)).includes('For nobody')]).toEqual([
        false,
        true,
      ]);
      if (path !== '/api/handovers') continue;
      expect(await statusOf(ask(`/read/${hidden.id}`, ben))).toBe(404);
      expect(await statusOf(ask(`${path}/${id}/links`, ben, 'POST', { days: 9 }))).toBe(403);
      // a link to what she keeps to herself opens it all the same
      const link = await ask(`${path}/${hidden.id}/links`, anna, 'POST', { days: 9 });
      const { address } = (await link.json()) as { address: string };
      expect(await statusOf(ask(address, {}))).toBe(200);
    }
    const save = (who: Headers, path: string, body: object) => statusOf(ask(path, who, 'POST', body));
    for (const [path, body] of [
      ['/api/entries', { name: 'hers', formula: 'mean(close, 5 bars)' }],
      ['/api/profiles', { name: 'hers', shape: 'a,b', choices: {} }],
    ] as const)
      expect([await save(anna, path, body), await save(ben, path, body), await save(anna, path, body)], path).toEqual([
        expect.toSatisfy((status: number) => status < 300),
        403,
        expect.toSatisfy((status: number) => status < 300),
      ]);
    expect(await statusOf(ask('/api/entries/hers', ben, 'DELETE'))).toBe(403);
    expect(await statusOf(ask('/api/entries/hers', anna, 'DELETE'))).toBe(204);
    const trail = (await (await ask('/api/audit?who=anna&limit=1000', keeper)).json()) as { act: string; at: string }[];
    expect(trail.map(({ act }) => act)).toEqual(expect.arrayContaining(['made', 'saved', 'deleted', 'made a link']));
    expect(trail.map(({ at }) => at)).toEqual(
      trail
        .map(({ at }) => at)
        .sort()
        .reverse(),
    );
  });

  it('list their sessions and end them, and change their own password', async () => {
    const change = (who: Headers, current: string, password: string) =>
      statusOf(ask('/api/password', who, 'PUT', { current, password }));
    const [ruth, elsewhere] = [await signedIn('ruth'), await signedIn('ruth')];
    const sessions = async () => (await (await ask('/api/sessions', ruth)).json()) as { id: string; isThis: boolean }[];
    const others = (await sessions()).filter(({ isThis }) => !isThis);
    expect((await sessions()).length - others.length).toBe(1);
    for (const { id } of others) expect(await statusOf(ask(`/api/sessions/${id}`, ruth, 'DELETE'))).toBe(204);
    expect([await statusOf(ask('/api/tapes', elsewhere)), await statusOf(ask('/api/tapes', ruth))]).toEqual([401, 200]);
    expect(await statusOf(ask('/api/sessions/none', ruth, 'DELETE'))).toBe(404);
    for (const password of ['1234567890', 'QwertyUIOP', 'abababababab', 'short'])
      expect(await change(ruth, PASSWORDS.ruth, password), password).toBe(400);
    expect(await change(ruth, 'not hers at all', 'tar, tar and rope')).toBe(401);
    await expect.poll(() => change(ruth, PASSWORDS.ruth, 'tar, tar and rope'), { timeout: 20_000 }).toBe(204);
    expect(await statusOf(ask('/api/tapes', ruth))).toBe(401);
    const again = (await signIn('ruth', 'tar, tar and rope')).headers;
    expect(await change(again, 'tar, tar and rope', PASSWORDS.ruth)).toBe(204);
    const [one, two] = [await signedIn('ruth'), await signedIn('ruth')];
    expect(await statusOf(ask('/api/sessions', one, 'DELETE'))).toBe(204);
    expect(await statusOf(ask('/api/tapes', two))).toBe(401);
    expect(await change(keeper, 'x', 'tar, tar and rope')).toBe(403);
  });

  it('are told of in a trail of what they entered, took away and carried off', async () => {
    const [anna, ben] = [await signedIn('anna'), await signedIn('ben')];
    await ask('/api/tapes/HERS/bars?rule=1+minute', { ...ben, accept: 'text/csv' });
    await ask('/api/tapes/HERS', anna, 'DELETE');
    const trail = async (query = '') => (await (await ask(`/api/audit${query}`, keeper)).json()) as object[];
    await expect
      .poll(() => trail('?limit=1000'))
      .toEqual(
        expect.arrayContaining([
          expect.objectContaining({ who: 'anna', act: 'deleted', what: { tape: 'HERS' } }),
          expect.objectContaining({
            who: 'ben',
            act: 'exported',
            what: expect.objectContaining({ tape: 'HERS', format: 'csv' }),
          }),
          expect.objectContaining({
            who: 'ben',
            act: 'exported',
            what: expect.objectContaining({ of: 'records', format: 'json' }),
          }),
          expect.objectContaining({ who: 'anna', act: 'shared', what: { tape: 'HERS', others: 'read' } }),
          expect.objectContaining({ who: 'anna', act: 'entered', what: expect.objectContaining({ tapes: ['HERS'] }) }),
          expect.objectContaining({ who: 'keeper', act: 'access granted', what: { person: 'anna', access: 'write' } }),
        ]),
      );
    expect(JSON.stringify(await trail())).not.toContain(PASSWORDS.anna);
    expect((await trail('?who=ben')).every((act) => (act as { who: string }).who === 'ben')).toBe(true);
    expect(await statusOf(ask('/api/audit', anna))).toBe(403);
  });

  it('are out at once by another password, another right, or when they are let in no more', async () => {
    const ben = await signedIn('ben');
    expect(await statusOf(ask('/api/people/ben', keeper, 'PATCH', { access: 'read' }))).toBe(204);
    expect(await statusOf(ask('/api/ledgers', ben, 'POST', {}))).toBe(403);
    expect(await statusOf(ask('/api/people/ben', keeper, 'PATCH', { password: 'another net of nine' }))).toBe(204);
    expect(await statusOf(ask('/api/tapes', ben))).toBe(401);
    const again = (await signIn('ben', 'another net of nine')).headers;
    expect(await statusOf(ask('/api/tapes', again))).toBe(200);
    expect(await statusOf(ask('/api/people/ben', keeper, 'DELETE'))).toBe(204);
    expect(await statusOf(ask('/api/tapes', again))).toBe(401);
    expect(await statusOf(ask('/api/people/ben', keeper, 'DELETE'))).toBe(404);
    // let in again by his name he has what was his
    const back = { name: 'ben', access: 'write', password: 'a third net of nine' };
    expect(await statusOf(ask('/api/people', keeper, 'POST', back))).toBe(201);
    expect(await statusOf(ask('/api/people', keeper, 'POST', back))).toBe(409);
    expect(await statusOf(ask('/api/tapes', again))).toBe(401);
    expect(await first((await signIn('ben', back.password)).headers)).toMatch(/^\/ledger\/\d+$/);
    expect(await statusOf(ask('/api/people/ben', keeper, 'DELETE'))).toBe(204);
    for (const name of ['keeper', '__proto__', 'a b', ''])
      expect(
        await statusOf(ask('/api/people', keeper, 'POST', { name, access: 'read', password: 'long enough' })),
      ).toBe(400);
    expect(
      await statusOf(ask('/api/people', keeper, 'POST', { name: 'anna', access: 'read', password: 'long enough' })),
    ).toBe(409);
    // what was done under a name is told by it
    expect(await statusOf(ask('/api/tokens', keeper, 'POST', { name: 'anna', access: 'read' }))).toBe(409);
  });

  describe('in a browser', () => {
    let context: BrowserContext;
    let page: Page;
    let close: FreshBrowser['close'];
    beforeAll(async () => {
      ({ context, page, close } = await freshBrowser());
    });
    afterAll(() => close());
    const says = (words: string) => pageSays(page, words);

    async function byProvider(name: string): Promise<void> {
      await page.goto(`${origin}/records`);
      await says('Sign in at 127.0.0.1');
      await page.click('a[href^="/signin/provider"]');
      await page.waitForSelector('input[name="name"]:not([type="hidden"])');
      await page.type('input[name="name"]:not([type="hidden"])', name);
      await page.click('button');
    }

    it('sign in at the provider, come back to the page they wanted, and are the same the next time', async () => {
      for (const round of [1, 2]) {
        await byProvider('anna');
        await says(round === 1 ? 'drop some anywhere' : 'Records');
        expect(new URL(page.url()).pathname).toBe('/records');
        const people = (await (await ask('/api/people', keeper)).json()) as object[];
        // another one has the name already
        expect(people).toEqual([
          expect.objectContaining({ name: 'anna', signsIn: 'here' }),
          expect.objectContaining({ name: 'anna_2', access: 'read', signsIn: 'elsewhere' }),
          expect.objectContaining({ name: 'ruth' }),
        ]);
        await context.deleteCookie(...(await context.cookies()));
      }
      // a password beside the provider lets him in by either; once he is taken out neither does
      expect(await statusOf(ask('/api/people/anna_2', keeper, 'PATCH', { password: PASSWORDS.ruth }))).toBe(204);
      await byProvider('anna');
      await says('Records');
      expect(new URL(page.url()).pathname).toBe('/records');
      expect((await signIn('anna_2', PASSWORDS.ruth)).status).toBe(303);
      await context.deleteCookie(...(await context.cookies()));
      expect(await statusOf(ask('/api/people/anna_2', keeper, 'DELETE'))).toBe(204);
      expect((await signIn('anna_2', PASSWORDS.ruth)).status).not.toBe(303);
      await byProvider('anna');
      await says('Your access was removed');
      // nor does anybody come to what another one has who was taken out
      await byProvider('ben');
      await says('Records');
      expect(JSON.stringify(await (await ask('/api/people', keeper)).json())).toContain('"ben_2"');
      await context.deleteCookie(...(await context.cookies()));
    });

    it('sign out here, then at the provider too', async () => {
      await byProvider('ben');
      await says('Records');
      await page.goto(`${origin}/account`);
      await page.click('form[action="?/signOut"] button');
      await says('Sign out at 127.0.0.1 too');
      expect(provider.ended).toEqual([]);
      await page.click('a[href="/signin/provider/end"]');
      await page.waitForFunction(() => !document.querySelector('a[href="/signin/provider/end"]'));
      await says('Sign in at 127.0.0.1');
      expect(provider.ended).toEqual(['id-of-ben']);
      // a browser that did not sign in there is not sent there
      expect((await page.goto(`${origin}/signin/provider/end`))!.url()).toBe(`${origin}/signin`);
      expect(provider.ended).toEqual(['id-of-ben']);
    });

    it('are not let in by an answer of the provider that they did not ask for', async () => {
      for (const query of ['', '?code=x&state=y', '?error=access_denied&state=z']) {
        const answer = await page.goto(`${origin}/signin/provider${query}`);
        expect(answer!.status()).toBe(403);
      }
      expect((await context.cookies()).some(({ name }) => name === 'jaunty-session')).toBe(false);
    });

    it('cannot sign in with an id token that another key has signed', async () => {
      await byProvider('mallory');
      await says('did not sign you in');
      expect((await context.cookies()).some(({ name }) => name === 'jaunty-session')).toBe(false);
      expect(JSON.stringify(await (await ask('/api/people', keeper)).json())).not.toContain('mallory');
    });

    it('of the keeper are let in, changed and removed on a page', async () => {
      await page.goto(`${origin}/access`);
      await page.type('input[name="token"]', TOKEN);
      await page.click('main button[type="submit"]');
      await says('What was done');
      await page.type('form[action="?/letIn"] input[name="name"]', 'carl');
      await page.type('form[action="?/letIn"] input[name="password"]', 'twelve green bottles');
      await page.click('form[action="?/letIn"] button');
      await says('access granted: person carl');
      await page.select('select[aria-label="What carl may"]', 'keep');
      await page.click('button[aria-label="Apply what carl may"]');
      await says('access changed: person carl, access keep');
      expect(await statusOf(ask('/api/people', (await signIn('carl', 'twelve green bottles')).headers))).toBe(200);
      await page.click('button[aria-label="Remove carl"]');
      await page.waitForFunction(() => !document.querySelector('button[aria-label="Remove carl"]'));
    });
  });
});
