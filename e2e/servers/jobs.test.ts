import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { databaseOf, serve, type Served } from '../servedApp';
import { csvOf, trades } from '../follower';

/* One server that answers and two that work for it: large work goes to whoever is free, and outlives whoever has it. */

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

interface Job {
  id: string;
  kind: string;
  state: string;
  attempt: number;
  server: string | null;
  share: number;
}

describe.skipIf(inject('databasePort') === 0)('servers of which some work for others', () => {
  let folder: string;
  let settings: Record<string, string>;
  let web: Served;
  let workers: Served[];
  let alone: Served;
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jaunty-jobs-'));
    settings = {
      JAUNTY_DEMO: 'off',
      JAUNTY_STORE: await databaseOf(folder),
      JAUNTY_JOB_PATIENCE: '2',
      JAUNTY_SPLIT_RECORDS: '220000',
    };
    web = await serve(join(folder, 'web'), { ...settings, JAUNTY_ROLE: 'web' });
    workers = await Promise.all(['one', 'two'].map(work));
    alone = await serve(join(folder, 'alone'), { JAUNTY_DEMO: 'off', JAUNTY_STORE: `sqlite:${join(folder, 'alone')}` });
    for (const { origin } of [web, alone])
      for (let number = 1; number <= 24; number++)
        await enter(origin, `T${number}`, csvOf(trades(number === 1 ? 6000 : 1200, number)));
  });
  afterAll(() => {
    for (const { process } of [web, alone, ...workers]) process.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  });

  const work = (name: string) => serve(join(folder, name), { ...settings, JAUNTY_ROLE: 'worker' });
  async function enter(origin: string, name: string, body: string, headers: Record<string, string> = {}) {
    const query = `name=${name}&kind=ticks&zone=UTC`;
    const answer = await fetch(`${origin}/api/tapes?${query}`, { method: 'POST', body, headers });
    return { status: answer.status, body: (await answer.json()) as { name: string; rows: number; code: string } };
  }
  const ask = (origin: string, path: string, body: object, init: RequestInit = {}) =>
    fetch(`${origin}/api/${path}`, { method: 'POST', body: JSON.stringify(body), ...init });
  const jobsNow = async () => (await (await fetch(`${web.origin}/api/jobs`)).json()) as Job[];
  async function until<Found>(look: () => Promise<Found | undefined>, milliseconds = 20_000): Promise<Found> {
    const end = Date.now() + milliseconds;
    for (;;) {
      const found = await look();
      if (found !== undefined) return found;
      if (Date.now() > end) throw new Error('it did not come about');
      await pause(40);
    }
  }
  const working = (kind: string, attempt = 1) =>
    until(async () =>
      (await jobsNow()).find((job) => job.kind === kind && job.state === 'working' && job.attempt >= attempt),
    );
  const none = () => until(async () => ((await jobsNow()).length === 0 ? true : undefined));
  /** The jobs that a server has brought to an end. */
  async function ended({ origin }: Served): Promise<number> {
    const text = await (await fetch(`${origin}/api/metrics`)).text();
    return [...text.matchAll(/^jaunty_jobs_total\{.*\} (\d+)$/gm)].reduce((sum, [, count]) => sum + Number(count), 0);
  }
  const workerOf = ({ server }: Job) => workers.find(({ origin }) => server!.endsWith(origin.match(/:\d+$/)![0]))!;
  /** Kills the server that has a job, and starts another one in its place. */
  async function kill(job: Job): Promise<void> {
    const at = workers.indexOf(workerOf(job));
    const gone = new Promise((done) => workers[at].process.once('exit', done));
    workers[at].process.kill('SIGKILL');
    await gone;
    workers[at] = await work(['one', 'two'][at]);
  }
  /** Takes some seconds: the numbers of a model are searched anew at each of many origins. */
  const long = (origins: number) => ({
    ...{ tape: 'T1', bars: '1 minute', entry: 'close', models: ['arima(2, 0, 1)'], horizon: 5 },
    ...{ first: 440 - origins, step: 1, refit: 1 },
  });

  it('a roll is shared by those who work, and comes out as on one server', async () => {
    const roll = {
      bars: '10 seconds',
      entries: ['m = mean(close, 9 bars)', 'h = hurst(logreturn(close), 200 bars)', 'v = volatility(30 bars)'],
    };
    const before = await Promise.all(workers.map(ended));
    const rows = async (origin: string) => (await (await ask(origin, 'rolls', roll)).json()) as { rows: object[] };
    const [shared, one] = [await rows(web.origin), await rows(alone.origin)];
    expect(shared.rows.length).toBe(24);
    expect(shared.rows.filter((row) => 'refused' in row)).toEqual([]);
    expect(shared).toEqual(one);
    for (const [at, count] of (await Promise.all(workers.map(ended))).entries())
      expect(count).toBeGreaterThan(before[at]);
  });

  it('work whose server is killed is taken up by another one, and comes out the same', async () => {
    const wanted: unknown = await (await ask(alone.origin, 'accuracy', long(25))).json();
    const answer = ask(web.origin, 'accuracy', long(25));
    await kill(await working('projectionAccuracy'));
    const again = workerOf(await working('projectionAccuracy', 2));
    const before = await ended(again);
    expect(await (await answer).json()).toEqual(wanted);
    expect(await ended(again)).toBe(before + 1);
    await none();
  });

  it('work ends where its client leaves, and where another server is told to stop it', async () => {
    const left = new AbortController();
    const leaving = ask(web.origin, 'accuracy', long(390), { signal: left.signal }).catch(() => 'left');
    await working('projectionAccuracy');
    left.abort();
    expect(await leaving).toBe('left');
    await none();
    const stopped = ask(web.origin, 'accuracy', long(390));
    const { id } = await working('projectionAccuracy');
    expect((await fetch(`${web.origin}/api/jobs/${id}`, { method: 'DELETE' })).status).toBe(204);
    const answer = await stopped;
    expect([answer.status, await answer.json()]).toMatchObject([409, { code: 'work-stopped' }]);
    await none();
    expect((await fetch(`${web.origin}/api/jobs/${id}`, { method: 'DELETE' })).status).toBe(404);
  });

  it('whoever asks for one thing does not wait for all of one who asks for many', async () => {
    workers[1].process.kill('SIGSTOP'); // so that there is one to wait for
    const order: string[] = [];
    const asked = (who: string) =>
      ask(web.origin, 'accuracy', long(6), { headers: { 'x-client': who } })
        .then((answer) => answer.json())
        .then(() => order.push(who));
    const many = Array.from({ length: 5 }, () => asked('many'));
    await until(async () => ((await jobsNow()).length === 5 ? true : undefined));
    await Promise.all([...many, asked('one')]);
    workers[1].process.kill('SIGCONT');
    expect(order.indexOf('one')).toBeLessThan(3);
  });

  it('a file whose server is killed in the middle is entered by another one, once', async () => {
    const file = csvOf(trades(900_000, 77));
    const entering = enter(web.origin, 'LARGE', file, { 'x-import': 'large one' });
    const job = await working('import');
    const told = await until(async () => {
      const found = (await (await fetch(`${web.origin}/api/imports/large%20one`)).json()) as { rows: number } | null;
      return found && found.rows > 0 ? found : undefined;
    });
    expect(told.rows).toBeLessThan(900_000);
    await kill(job);
    expect((await working('import', job.attempt + 1)).id).toBe(job.id);
    expect(await entering).toMatchObject({ status: 201, body: { name: 'LARGE', rows: 900_000 } });
    expect(await enter(web.origin, 'LARGE', file.slice(0, 2000))).toMatchObject({ status: 409 });
    await none();
  });

  it('bars of a long tape are cut by several, a stretch each, and are the same to the last bit', async () => {
    await enter(alone.origin, 'LARGE', csvOf(trades(900_000, 77)));
    const stretches = async (worker: Served) =>
      Number(
        /kind="barStretch",state="done"\} (\d+)/.exec(
          await (await fetch(`${worker.origin}/api/metrics`)).text(),
        )?.[1] ?? 0,
      );
    const bars = async (origin: string, rule: string) =>
      (
        await fetch(`${origin}/api/tapes/LARGE/bars?rule=${encodeURIComponent(rule)}`, {
          headers: { accept: 'text/csv' },
        })
      ).text();
    const apart = ['5 minutes', '1 hour, empty: carry, all hours', '1 week', '700 units, restart: day'];
    for (const rule of [...apart, '900 trades', '2500 units', '300000 value, all hours', 'range 2']) {
      const [shared, one] = [await bars(web.origin, rule), await bars(alone.origin, rule)];
      expect(shared.length).toBeGreaterThan(500);
      expect(shared).toBe(one);
    }
    for (const worker of workers) expect(await stretches(worker)).toBeGreaterThan(0);
    await none();
  });

  it('a file that cannot be read is refused in the same words, and nothing of it stays', async () => {
    const files = ['', 'no,table\n1', 'time,price\nyesterday,4\n'];
    for (const file of files) {
      const [there, here] = [await enter(web.origin, 'BAD', file), await enter(alone.origin, 'BAD', file)];
      expect(there).toEqual(here);
    }
    await none();
  });

  it('one that works for others answers them alone, and says so', async () => {
    const answer = await fetch(`${workers[0].origin}/api/tapes`);
    expect([answer.status, await answer.json()]).toMatchObject([404, { code: 'unknown-address' }]);
    expect((await fetch(`${workers[0].origin}/api/health`)).status).toBe(200);
  });
});
