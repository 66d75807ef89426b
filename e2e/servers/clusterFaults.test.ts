import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { startPostgres, type ThrowAwayPostgres } from '../../scripts/postgres.mjs';
import { Between } from './cutConnection';
import { Feeder } from '../feeder';
import { csvOf, Follower, trades } from '../follower';
import { serve, type Served } from '../servedApp';
import { KILLS } from './kills';

/*
 * What may happen to servers that share a database: they are killed, their connections are cut, nothing comes through, their
 * clocks are apart. What was told to be done is there, nothing half is, and everything goes on by itself. Each kind of process
 * is killed as often: web servers, workers and the database.
 */

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Runs a program that only the administrator may. @returns whether it did what it was told */
const asRoot = (program: string, ...told: string[]): boolean =>
  inject('databasePort') > 0 && spawnSync(program, told).status === 0;
/** A network of its own for one server, which can be cut; the addresses are of its two ends. */
const NETWORK = { name: 'jaunty-cut', link: 'jaunty-cut0', here: '10.213.7.1', there: '10.213.7.2' };
const makeNetwork = (): boolean => {
  const { name, link, here, there } = NETWORK;
  asRoot('ip', 'netns', 'delete', name);
  return (
    asRoot('ip', 'netns', 'add', name) &&
    asRoot('ip', 'link', 'add', link, 'type', 'veth', 'peer', 'name', 'far', 'netns', name) &&
    asRoot('ip', 'address', 'add', `${here}/24`, 'dev', link) &&
    asRoot('ip', 'link', 'set', link, 'up') &&
    asRoot('ip', '-n', name, 'address', 'add', `${there}/24`, 'dev', 'far') &&
    asRoot('ip', '-n', name, 'link', 'set', 'far', 'up') &&
    asRoot('ip', '-n', name, 'link', 'set', 'lo', 'up')
  );
};

describe.skipIf(inject('databasePort') === 0)('servers that share a database', () => {
  let folder: string;
  let store: string;
  let database: ThrowAwayPostgres;
  const started = new Set<Served>();
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-faults-'));
    database = await startPostgres();
    store = database.database('ledger');
  });
  afterAll(async () => {
    for (const { process } of started) process.kill('SIGKILL');
    await database.end();
    rmSync(folder, { recursive: true, force: true });
  });

  async function start(name: string, settings: Record<string, string> = {}, through?: string[]): Promise<Served> {
    const patience = { JAUNTY_JOB_PATIENCE: '2', JAUNTY_STORE_PATIENCE: '3' };
    const all = { JAUNTY_DEMO: 'off', JAUNTY_STORE: store, ...patience, ...settings };
    const served = await serve(join(folder, name), all, undefined, through);
    started.add(served);
    return served;
  }
  async function kill(served: Served): Promise<void> {
    const gone = new Promise((done) => served.process.once('exit', done));
    served.process.kill('SIGKILL');
    started.delete(served);
    await gone;
  }
  const ask = (origin: string, path: string, body?: object | string) =>
    fetch(`${origin}/api/${path}`, {
      method: body === undefined ? 'GET' : 'POST',
      body: typeof body === 'object' ? JSON.stringify(body) : body,
    });
  const enter = (origin: string, name: string, count: number, seed: number) =>
    ask(origin, `tapes?name=${name}&kind=ticks&zone=UTC`, csvOf(trades(count, seed)));
  /** What a request is answered in the end, by a client that asks again until it is done. */
  async function inTheEnd(asked: () => Promise<Response>): Promise<unknown> {
    for (let tries = 0; ; tries++) {
      try {
        const answer = await asked();
        if (answer.ok) return await answer.json();
        if (answer.status < 500 || tries > 100) throw new Error(await answer.text());
      } catch (error) {
        if (!(error instanceof TypeError) || tries > 100) throw error; // no connection
      }
      await pause(200);
    }
  }

  it('that are killed in the middle of any work lose nothing that was told to be done, and leave nothing half', async () => {
    const settings = { JAUNTY_ROLE: 'web' };
    let web = await start('web', settings);
    const workers = await Promise.all(['one', 'two'].map((name) => start(name, { JAUNTY_ROLE: 'worker' })));
    const port = new URL(web.origin).port;
    for (let at = 0; at < 6; at++) await inTheEnd(() => enter(web.origin, `K${at}`, 6000, at + 1));
    const works: Record<string, (round: number) => { asked: () => Promise<Response>; wanted?: unknown }> = {
      import: (round) => ({ asked: () => enter(web.origin, `IN${round}`, 150_000, round + 1) }),
      rollPart: () => ({
        asked: () =>
          ask(web.origin, 'rolls', { bars: '10 seconds', entries: ['h = hurst(logreturn(close), 300 bars)'] }),
      }),
      projectionAccuracy: () => ({
        asked: () =>
          ask(web.origin, 'accuracy', {
            ...{ tape: 'K0', bars: '1 minute', models: ['arima(1, 0, 1)'], horizon: 5, first: 260, step: 4, refit: 1 },
          }),
      }),
      columns: () => ({
        asked: () =>
          ask(web.origin, 'columns', {
            ...{
              tape: 'K1',
              bars: '1 second',
              entries: Array.from({ length: 90 }, (_, at) => `v${at} = volatility(${at + 20} bars)`),
            },
          }),
      }),
    };
    const kinds = Object.keys(works);
    const victims = ['web', 'worker', 'database'] as const;
    for (let round = 0; round < victims.length * KILLS; round++) {
      const kind = kinds[round % kinds.length];
      const victim = victims[round % victims.length];
      const { asked } = works[kind](round);
      const sort = (answer: unknown) =>
        typeof answer === 'object' && answer && 'rows' in answer
          ? [...(answer.rows as { tape: string }[])].sort((a, b) => (a.tape < b.tape ? -1 : 1))
          : answer;
      const wanted = kind === 'import' ? undefined : sort(await inTheEnd(asked));
      const answer = asked().then(
        (found) => found,
        () => undefined,
      );
      await pause(40 + ((round * 137) % 400));
      if (victim === 'worker') {
        const at = round % workers.length;
        await kill(workers[at]);
        workers[at] = await start(['one', 'two'][at], { JAUNTY_ROLE: 'worker' });
        const found = (await answer)!;
        expect(found.status, kind).toBeLessThan(300); // another one has done it
        if (wanted !== undefined) expect(sort(await found.json()), kind).toEqual(wanted);
      } else {
        if (victim === 'database') {
          await database.stop('kill');
          await database.start();
        } else {
          await kill(web);
          web = await start('web', { ...settings, PORT: port });
        }
        const before = await answer;
        if (kind === 'import') {
          // it was told to be done, or it is not there, or it comes yet: the file had arrived
          if (before?.ok) expect((await ask(web.origin, `tapes/IN${round}`)).status).toBe(200);
        } else expect(sort(await inTheEnd(asked)), kind).toEqual(wanted);
      }
      const shelf = (await inTheEnd(() => ask(web.origin, 'tapes?limit=1000'))) as { name: string; rows: number }[];
      for (const { name, rows } of shelf) expect(rows, name).toBe(name.startsWith('IN') ? 150_000 : 6000);
    }
    for (let tries = 0; tries < 200; tries++) {
      const jobs = (await inTheEnd(() => ask(web.origin, 'jobs'))) as object[];
      if (jobs.length === 0) break;
      expect(tries).toBeLessThan(199);
      await pause(100);
    }
    await Promise.all([web, ...workers].map(kill));
  }, 600_000);

  it('whose connections are cut, or through to which nothing comes, keep what they have told and go on', async () => {
    const between = await Between.start(Number(new URL(store).port));
    const server = await start('cut', { JAUNTY_STORE: between.addressOf(store) });
    const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
    const kept: string[] = [];
    let isOver = false;
    const refusals = new Set<string>();
    const writer = async (who: string) => {
      for (let number = 0; !isOver; number++) {
        const title = `${who} ${number}`;
        const body = { tape: 'K0', rule: '1 hour', view: null, lanes };
        const answer = await ask(server.origin, 'ledgers', { title, body });
        if (answer.ok) kept.push(title);
        else {
          const { status, code } = (await answer.json()) as { status: number; code: string };
          refusals.add(`${status} ${code}`);
        }
      }
    };
    const writers = ['a', 'b', 'c'].map(writer);
    for (let cuts = 0; cuts < 8; cuts++) {
      await pause(150);
      between.cut();
    }
    await pause(500);
    const beforeDeaf = kept.length;
    between.deafen();
    await pause(300);
    const health = await fetch(`${server.origin}/api/health`);
    expect([health.status, await health.json()]).toMatchObject([503, { code: 'store-busy' }]);
    await pause(4000);
    between.hear();
    await pause(3000);
    isOver = true;
    await Promise.all(writers);
    expect(kept.length).toBeGreaterThan(beforeDeaf);
    for (const refusal of refusals) expect(refusal).toMatch(/^503 store-busy$/);
    const titles = ((await inTheEnd(() => ask(server.origin, 'ledgers?limit=1000'))) as { title: string }[]).map(
      ({ title }) => title,
    );
    expect(kept.filter((title) => !titles.includes(title))).toEqual([]);
    expect(await (await fetch(`${server.origin}/api/health`)).json()).toEqual({
      alive: true,
      ready: true,
      writes: true,
    });
    between.end();
    await kill(server);
  }, 120_000);

  it('of which a worker hears nothing from the database go on taking jobs once it does', async () => {
    const between = await Between.start(Number(new URL(store).port));
    const web = await start('heard', { JAUNTY_ROLE: 'web' });
    const worker = await start('deaf', { JAUNTY_ROLE: 'worker', JAUNTY_STORE: between.addressOf(store) });
    // a file is imported by a worker
    expect((await enter(web.origin, 'DEAF', 2000, 7)).status).toBe(201);
    // statements under way are never answered: each is given up after JAUNTY_STORE_PATIENCE
    between.deafen();
    const answer = enter(web.origin, 'HEARD', 2000, 8);
    await pause(500);
    between.cutSilently();
    await pause(4000);
    between.hear();
    expect((await answer).status).toBe(201);
    await Promise.all([web, worker].map(kill));
    between.end();
  }, 120_000);

  it('whose clocks are five minutes apart do the same as others', async () => {
    const clock = (minutes: number) => ({
      CLOCK_MINUTES: String(minutes),
      NODE_OPTIONS: `--import ${pathToFileURL(join(import.meta.dirname, 'otherClock.mjs')).href}`,
    });
    const web = await start('ahead', { JAUNTY_ROLE: 'web', ...clock(5) });
    const worker = await start('behind', { JAUNTY_ROLE: 'worker', ...clock(-5) });
    expect((await enter(web.origin, 'APART', 150_000, 3)).status).toBe(201);
    const tape = (await inTheEnd(() => ask(web.origin, 'tapes/APART'))) as {
      rows: number;
      report: { enteredAt: string };
    };
    expect(tape.rows).toBe(150_000);
    expect(Date.parse(tape.report.enteredAt) - Date.now()).toBeGreaterThan(4 * 60_000); // so the clock is another one
    const third = await start('right'); // clears away what the dead have left
    const roll = { bars: '1 minute', entries: ['m = mean(close, 9 bars)'], tapes: ['APART'] };
    const rows = await Promise.all([web, third].map(({ origin }) => inTheEnd(() => ask(origin, 'rolls', roll))));
    expect(rows[0]).toEqual(rows[1]);
    const follower = new Follower(
      third.origin,
      'APART',
      new URLSearchParams({ rule: '1 hour', entries: 'm = close', version: '0' }),
    );
    await follower.until(1);
    const feeder = new Feeder(web.origin, 'APART', '?sender=one');
    const later = trades(40, 9, Date.UTC(2026, 5, 1));
    feeder.send(later);
    await feeder.end();
    const { version } = (await inTheEnd(() => ask(third.origin, 'tapes/APART'))) as { version: number };
    await follower.until(version);
    expect(follower.columns.close.at(-1)).toBe(later.at(-1)!.price);
    follower.leave();
    await Promise.all([web, worker, third].map(kill));
  }, 120_000);

  it('of which one is cut off from the network give its work to another, and have it back after', async (test) => {
    // a browser gives up its requests when a network comes or goes, so `npm test` runs this after all that use one
    if (process.env.NETWORK_TESTS === 'later' || !makeNetwork()) return test.skip();
    const between = await Between.start(Number(new URL(store).port), NETWORK.here);
    const web = await start('net web', { JAUNTY_ROLE: 'web' });
    const cutOff = await start('net far', { JAUNTY_ROLE: 'worker', JAUNTY_STORE: between.addressOf(store) }, [
      ...['ip', 'netns', 'exec', NETWORK.name],
    ]);
    // so many records that it is heavy from the start: a light task is done by the web server itself where that is fast
    await inTheEnd(() => enter(web.origin, 'NET', 21_000, 5));
    const long = {
      ...{ tape: 'NET', bars: '1 minute', models: ['arima(1, 0, 1)'], horizon: 5, first: 260, step: 4, refit: 1 },
    };
    const wanted = await inTheEnd(() => ask(web.origin, 'accuracy', long));
    const jobs = async () =>
      (await inTheEnd(() => ask(web.origin, 'jobs'))) as { state: string; attempt: number; server: string }[];
    const working = async (attempt: number) => {
      for (let tries = 0; tries < 300; tries++) {
        const found = (await jobs()).find((job) => job.state === 'working' && job.attempt >= attempt);
        if (found) return found;
        await pause(30);
      }
      throw new Error('nobody works on it');
    };
    const answer = inTheEnd(() => ask(web.origin, 'accuracy', { ...long, horizon: 6 }));
    const first = await working(1);
    expect(asRoot('ip', 'link', 'set', NETWORK.link, 'down')).toBe(true);
    const other = await start('net near', { JAUNTY_ROLE: 'worker' });
    expect((await working(2)).server).not.toBe(first.server);
    expect(await answer).not.toEqual(wanted);
    expect(await jobs()).toEqual([]);
    expect(asRoot('ip', 'link', 'set', NETWORK.link, 'up')).toBe(true);
    await kill(other);
    // it cannot end what it lost, and takes what comes
    expect(await inTheEnd(() => ask(web.origin, 'accuracy', long))).toEqual(wanted);
    await Promise.all([web, cutOff].map(kill));
    between.end();
  }, 180_000);

  let disk: string | undefined;
  it('whose database has no room left say so, keep what there was, and go on once there is room', async (test) => {
    disk = mkdtempSync(join(tmpdir(), 'jaunty-disk-'));
    if (!asRoot('mount', '-t', 'tmpfs', '-o', 'size=160m,mode=1777', 'tmpfs', disk)) return test.skip();
    const ballast = join(disk, 'ballast');
    const settings = { min_wal_size: '32MB', max_wal_size: '48MB' };
    const full = await startPostgres({ parent: disk, settings });
    try {
      const server = await start('full', { JAUNTY_STORE: full.database('ledger') });
      const { bavail, bsize } = statfsSync(disk);
      writeFileSync(ballast, Buffer.alloc(Math.max(16 << 20, bavail * bsize - (12 << 20))));
      const entered: string[] = [];
      let refused: { status: number; code: string; detail: string } | undefined;
      for (let number = 0; number < 60 && !refused; number++) {
        const answer = await enter(server.origin, `F${number}`, 300_000, number + 1);
        if (answer.ok) entered.push(`F${number}`);
        else refused = (await answer.json()) as typeof refused;
      }
      expect([507, 503]).toContain(refused?.status);
      expect(refused?.detail).toMatch(/is full|cannot be reached|was lost/);
      rmSync(ballast);
      await full.start(); // it may have ended where it could not write its journal
      const shelf = (await inTheEnd(() => ask(server.origin, 'tapes?limit=1000'))) as { name: string; rows: number }[];
      expect(shelf.map(({ name }) => name).sort()).toEqual([...entered].sort());
      expect(shelf.every(({ rows }) => rows === 300_000)).toBe(true);
      expect(await inTheEnd(() => enter(server.origin, 'AFTER', 2000, 8))).toMatchObject({
        name: 'AFTER',
        rows: 2000,
      });
      await kill(server);
    } finally {
      await full.end();
    }
  }, 180_000);

  afterAll(() => {
    if (disk !== undefined) {
      asRoot('umount', '--lazy', disk);
      rmSync(disk, { recursive: true, force: true });
    }
    asRoot('ip', 'netns', 'delete', NETWORK.name);
  });
});
