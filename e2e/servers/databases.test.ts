import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { WITHOUT_FSYNC, startPostgres, type ThrowAwayPostgres } from '../../scripts/postgres.mjs';
import { Feeder } from '../feeder';
import { csvOf, trades } from '../follower';
import { serve, type Served } from '../servedApp';

/* Records on several database servers, and a book that is carried from one store to another, by the commands of the manual. */

const IN_USE = /^Servers are using this store \(\d+ connections\)\. Stop them/;

const jaunty = (...told: string[]) => {
  const cwd = join(import.meta.dirname, '../..');
  const { status, stderr } = spawnSync(process.execPath, ['cli/dist/jaunty.js', ...told], { encoding: 'utf8', cwd });
  return { status, stderr };
};

describe.skipIf(inject('databasePort') === 0)('a store', () => {
  let folder: string;
  let main: ThrowAwayPostgres;
  let further: ThrowAwayPostgres;
  let store: string;
  let server: Served;
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-databases-'));
    [main, further] = await Promise.all([1, 2].map(() => startPostgres({ settings: WITHOUT_FSYNC })));
    store = main.database('ledger');
    server = await open(store);
  });
  afterAll(async () => {
    await close();
    await Promise.all([main.end(), further.end()]);
    rmSync(folder, { recursive: true, force: true });
  });

  const open = (address: string) => serve(join(folder, 'server'), { JAUNTY_DEMO: 'off', JAUNTY_STORE: address });
  async function stop({ process }: Served): Promise<void> {
    const gone = new Promise((done) => process.once('exit', done));
    process.kill('SIGTERM');
    await gone;
  }
  const close = () => stop(server);
  const enter = (name: string, count: number, seed: number) =>
    fetch(`${server.origin}/api/tapes?name=${name}&kind=ticks&zone=UTC`, {
      method: 'POST',
      body: csvOf(trades(count, seed)),
    });
  const bars = (name: string) =>
    fetch(`${server.origin}/api/tapes/${name}/bars?rule=1+minute`, { headers: { accept: 'text/csv' } });
  const text = async (name: string) => (await bars(name)).text();
  /** So many tapes that some lie on either server. */
  const names = Array.from({ length: 14 }, (_, at) => `T${at}`);
  let before: string[];

  it('is spread over several database servers by one command, while nobody works with it', async () => {
    for (const [at, name] of names.entries()) expect((await enter(name, 1500, at)).status).toBe(201);
    before = await Promise.all(names.map(text));
    const over = [main.database('chunks'), further.database('chunks')].flatMap((address) => ['--over', address]);
    expect(jaunty('spread', '--from', store, ...over)).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(IN_USE) as string,
    });
    await close();
    expect(jaunty('spread', '--from', store, ...over).status).toBe(0);
    expect(jaunty('spread', '--from', store, ...over).stderr).toMatch('are spread already');
    server = await open(store);
    expect(await Promise.all(names.map(text))).toEqual(before);
    for (const name of names) {
      const feeder = new Feeder(server.origin, name);
      feeder.send([{ time: '2026-03-01T00:00:00Z', price: 5, size: 1 } as never]);
      await feeder.end();
      expect((await text(name)).trimEnd().split('\n').at(-1)).toMatch(/^2026-03-01T00:00:00/);
    }
  });

  it('with a database server away says so, keeps nothing half, and goes on by itself', async () => {
    before = await Promise.all(names.map(text));
    await further.stop('kill');
    // bars that are kept in memory are not asked for again
    const ask = () => Promise.all(names.map((name) => fetch(`${server.origin}/api/tapes/${name}/records?limit=10`)));
    const isReadable = ({ status }: Response) => status === 200;
    let asked = await ask();
    // those that wait for the other server can hold up the rest on a machine that others use too
    if (!asked.some(isReadable)) asked = await ask();
    const added = names.slice(0, 4);
    const entered = await Promise.all(added.map((name) => enter(`${name}_more`, 500, 9)));
    await further.start();
    const away = asked.filter((answer) => !isReadable(answer));
    expect(away.length).toBeGreaterThan(0);
    expect(away.length).toBeLessThan(names.length);
    for (const answer of away)
      expect([answer.status, await answer.json()]).toMatchObject([503, { code: 'store-busy' }]);
    const shelf = (await (await fetch(`${server.origin}/api/tapes?limit=1000`)).json()) as {
      name: string;
      rows: number;
    }[];
    for (const [at, name] of added.entries()) {
      const tape = shelf.find((one) => one.name === `${name}_more`);
      expect(tape?.rows).toBe(entered[at].status === 201 ? 500 : undefined);
      if (entered[at].status !== 201) expect((await enter(`${name}_more`, 500, 9)).status).toBe(201);
    }
    expect(await Promise.all(names.map(text))).toEqual(before);
  }, 180_000);

  it('is backed up while it is fed, restored into a folder, and moved back to a database', async () => {
    const feeder = new Feeder(server.origin, 'T0', '?sender=backup');
    let isOver = false;
    const feeding = (async () => {
      for (let seq = 0; !isOver; seq++) {
        const time = new Date(Date.UTC(2026, 2, 2) + seq * 1000).toISOString();
        feeder.send([{ seq, time, price: 5 + (seq % 3), size: 1 } as never]);
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
    })();
    const backup = join(folder, 'backup');
    expect(jaunty('backup', '--from', store, '--to', backup)).toEqual({ status: 0, stderr: expect.any(String) });
    isOver = true;
    await feeding;
    await feeder.end();
    expect(readdirSync(backup).sort()).toEqual(['backup.json', 'tables', 'tapes']);
    before = await Promise.all(names.slice(1).map(text));
    await close();
    const restored = `sqlite:${join(folder, 'restored')}`;
    expect(jaunty('restore', '--from', backup, '--to', restored)).toMatchObject({ status: 0 });
    server = await open(restored);
    expect(await Promise.all(names.slice(1).map(text))).toEqual(before);
    expect(jaunty('move', '--from', restored, '--to', main.database('again')).stderr).toMatch('Another server');
    const used = await serve(join(folder, 'other'), { JAUNTY_DEMO: 'off', JAUNTY_STORE: main.database('used') });
    for (const way of ['--from', '--to'])
      expect(
        jaunty('move', way, main.addressOf('used'), way === '--to' ? '--from' : '--to', main.addressOf('again')),
      ).toEqual({
        ...{ status: 1, stderr: expect.stringMatching(IN_USE) as string },
      });
    expect(jaunty('restore', '--from', backup, '--to', main.addressOf('used')).stderr).toMatch(IN_USE);
    await stop(used);
    const fed = await text('T0');
    await close();
    expect(jaunty('move', '--from', restored, '--to', main.addressOf('again'))).toMatchObject({ status: 0 });
    server = await open(main.addressOf('again'));
    expect(await Promise.all(names.map(text))).toEqual([fed, ...before]);
  }, 180_000);
});
