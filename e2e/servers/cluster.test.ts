import { mkdtempSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { startPostgres, type ThrowAwayPostgres } from '../../scripts/postgres.mjs';
import { Feeder } from '../feeder';
import { csvOf, Follower, trades } from '../follower';
import { serve, serveCluster, type Served } from '../servedApp';

/* Two servers on one database, behind a proxy: each knows what the other does, and what is told to be safe outlives either. */

const SETTINGS = { JAUNTY_DEMO: 'off' };
const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));
const jsonOf = async (address: string, init?: RequestInit) => (await (await fetch(address, init)).json()) as never;

describe.skipIf(inject('databasePort') === 0)('two servers on one database', () => {
  let folder: string;
  let database: ThrowAwayPostgres;
  let settings: Record<string, string>;
  let cluster: Awaited<ReturnType<typeof serveCluster>>;
  let first: Served;
  let second: Served;
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-cluster-'));
    database = await startPostgres();
    settings = { ...SETTINGS, JAUNTY_STORE: database.database('ledger') };
    cluster = await serveCluster(folder, settings);
    [first, second] = cluster.servers;
  });
  afterAll(async () => {
    for (const { process } of [first, second]) process.kill('SIGKILL');
    cluster.proxy.close();
    cluster.proxy.closeAllConnections();
    await database.end();
    rmSync(folder, { recursive: true, force: true });
  });

  const enter = (origin: string, name: string, body: string, headers: Record<string, string> = {}) =>
    fetch(`${origin}/api/tapes?name=${name}&kind=ticks&zone=UTC`, { method: 'POST', body, headers });
  async function pricesOf(origin: string, name: string): Promise<number[]> {
    const { columns }: { columns: { price: number[] } } = await jsonOf(
      `${origin}/api/tapes/${name}/records?limit=100000`,
    );
    return columns.price;
  }

  it('a tape that is fed on one is followed on the other, within a second and to the last bit', async () => {
    const all = trades(1200, 21);
    await enter(first.origin, 'FED', csvOf(all.slice(0, 300)));
    const entries = ['m = mean(close, 7 bars)', 'e = ema(close, 9 bars)', 'far = lag(close, 30 minutes)'];
    const query = new URLSearchParams({ rule: '2 minutes', entries: entries.join('\n'), version: '0' });
    const follower = new Follower(second.origin, 'FED', query);
    await follower.until(1);
    const feeder = new Feeder(first.origin, 'FED', '?sender=one');
    // the last ones are late
    const sent = [...all.slice(300, 1150), ...all.slice(1170), ...all.slice(1150, 1170)].map((record, seq) => ({
      ...record,
      seq,
    }));
    for (let from = 0; from < sent.length; from += 90) {
      feeder.send(sent.slice(from, from + 90));
      await pause(60);
    }
    await feeder.end();
    const { version }: { version: number } = await jsonOf(`${first.origin}/api/tapes/FED`);
    await follower.until(version);
    follower.leave();
    const whole: { columns: Record<string, unknown[]> } = await jsonOf(`${second.origin}/api/columns`, {
      method: 'POST',
      headers: { accept: 'application/json' },
      body: JSON.stringify({ tape: 'FED', bars: '2 minutes', entries }),
    });
    for (const name of ['time', 'close', 'volume', 'm', 'e', 'far'])
      expect(follower.columns[name], name).toEqual(whole.columns[name]);
  });

  it('how far a file has come is told by either', async () => {
    const sending = request(`${first.origin}/api/tapes?name=SLOW&kind=ticks&zone=UTC`, {
      method: 'POST',
      headers: { 'x-import': 'slow one', 'transfer-encoding': 'chunked' },
    });
    const ended = new Promise((done) => sending.on('response', (answer) => answer.resume().on('end', done)));
    const lines = csvOf(trades(40_000, 22));
    sending.write(lines.slice(0, lines.length / 2));
    const asked = (): Promise<{ bytes: number } | null> =>
      jsonOf(`${second.origin}/api/imports/${encodeURIComponent('slow one')}`);
    let found = await asked();
    for (let tries = 0; !found?.bytes && tries < 100; tries++) {
      await pause(50);
      found = await asked();
    }
    expect(found?.bytes).toBeGreaterThan(0);
    sending.end(lines.slice(lines.length / 2));
    await ended;
    for (let tries = 0; (await asked()) && tries < 100; tries++) await pause(50);
    expect(await asked()).toBeNull();
    expect((await pricesOf(second.origin, 'SLOW')).length).toBe(40_000);
  });

  it('a ledger that is changed on both tells the second one, who loses nothing', async () => {
    const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
    const body = { tape: 'FED', rule: '1 hour', view: null, lanes };
    const made: { id: number; version: number; body: object } = await jsonOf(`${first.origin}/api/ledgers`, {
      method: 'POST',
      body: JSON.stringify({ title: 'Ours', body }),
    });
    const save = (origin: string, title: string) =>
      fetch(`${origin}/api/ledgers/${made.id}`, {
        method: 'PUT',
        body: JSON.stringify({ title, body: made.body, version: made.version }),
      });
    const answers = await Promise.all([save(first.origin, 'Mine'), save(second.origin, 'Yours')]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    const kept: { title: string; version: number } = await jsonOf(`${second.origin}/api/ledgers/${made.id}`);
    const winner = answers.findIndex(({ status }) => status === 200);
    expect([kept.title, kept.version]).toEqual([['Mine', 'Yours'][winner], made.version + 1]);
  });

  it('says whether it is ready, and what it does, to those who watch over it', async () => {
    expect(await jsonOf(`${cluster.origin}/api/health`)).toEqual({ alive: true, ready: true, writes: true });
    const metrics = await fetch(`${first.origin}/api/metrics`);
    expect(metrics.headers.get('content-type')).toMatch(/^application\/openmetrics-text/);
    const text = await metrics.text();
    expect(text).toMatch(/jaunty_requests_total\{method="GET",route="\/api\/health",status="200"\} \d+/);
    expect(text.endsWith('# EOF\n')).toBe(true);
  });

  it('a database that is started anew while it is fed loses nothing, and all goes on by itself', async () => {
    const all = trades(3000, 23).map((record, seq) => ({ ...record, price: 1 + seq }));
    await enter(first.origin, 'RESTARTED', csvOf(all.slice(0, 1)));
    const sent = all.slice(1).map((record, seq) => ({ ...record, seq }));
    let isDown = false;
    const restarting = (async () => {
      await pause(400);
      await database.stop('kill');
      isDown = true;
      const health = await fetch(`${second.origin}/api/health`);
      expect([health.status, await health.json()]).toMatchObject([503, { code: 'store-busy' }]);
      await database.start();
    })();
    let next = 0;
    // a sender that goes on where it was told that it has come to
    for (let tries = 0; next < sent.length && tries < 60; tries++) {
      const feeder = new Feeder([first, second][tries % 2].origin, 'RESTARTED', '?sender=one');
      await feeder.until(() => feeder.answers.length > 0);
      if (feeder.answers[0]?.sequence === undefined) {
        await pause(200);
        continue;
      }
      next = feeder.answers[0].sequence! + 1;
      while (next < sent.length && !feeder.answers.some(({ problem }) => problem) && !feeder.failure) {
        feeder.send(sent.slice(next, next + 100));
        next += 100;
        await pause(40);
      }
      const answers = await feeder.end();
      const problem = answers.find(({ problem }) => problem)?.problem;
      if (problem) expect(problem.detail).toMatch(/cannot be reached|was lost/);
      next = Math.max(-1, ...answers.map(({ sequence }) => sequence ?? -1)) + 1;
    }
    await restarting;
    expect(isDown).toBe(true);
    expect(await pricesOf(second.origin, 'RESTARTED')).toEqual(all.map(({ price }) => price));
  });

  it('one that is killed in the middle of a file leaves nothing half, and the other goes on', async () => {
    const sending = request(`${first.origin}/api/tapes?name=HALF&kind=ticks&zone=UTC`, {
      method: 'POST',
      headers: { 'transfer-encoding': 'chunked' },
    });
    const broken = new Promise((done) => sending.on('error', done));
    sending.write(csvOf(trades(200_000, 24)));
    await pause(700);
    const gone = new Promise((done) => first.process.once('exit', done));
    first.process.kill('SIGKILL');
    await Promise.all([broken, gone]);
    expect((await fetch(`${cluster.origin}/api/tapes/HALF`)).status).toBe(404);
    expect((await enter(cluster.origin, 'HALF', csvOf(trades(50, 25)))).status).toBe(201);
    first = await serve(cluster.folders[0], { ...settings, PORT: new URL(first.origin).port });
    expect((await pricesOf(first.origin, 'HALF')).length).toBe(50);
  });
});
