import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { serve, type Served } from '../servedApp.js';

/* Several at once: nobody loses anything, and nobody light waits for somebody heavy. */

let folder: string;
let server: Served;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-together-'));
  server = await serve(folder, { JAUNTY_DEMO: 'off' });
  await enter('BIG', trades(1_500_000));
  await enter('SMALL', trades(100));
});
afterAll(() => {
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

/** So many trades, a second apart, from an instant on. */
function trades(count: number, from = 1_700_000_000): string {
  const lines = Array.from(
    { length: count },
    (_, i) => `${from + i},${(8000 + ((i * 7919) % 400)) / 100},${1 + (i % 90)}`,
  );
  return `time,price,size\n${lines.join('\n')}\n`;
}

const at = (path: string, init: RequestInit = {}) => fetch(server.origin + path, init);
const send = (path: string, method: string, body: unknown) => at(path, { method, body: JSON.stringify(body) });
async function enter(name: string, body: string): Promise<void> {
  const answer = await at(`/api/tapes?name=${name}`, { method: 'POST', body });
  expect(answer.status, await answer.text()).toBe(201);
}

it('imports, further files, renames and saves do not fail one another', async () => {
  const body = {
    tape: 'SMALL',
    rule: '1 hour',
    view: null,
    lanes: [{ id: 'p', base: 'price', weight: 1, entries: [] }],
  };
  const ledger = (await (await send('/api/ledgers', 'POST', { title: 'Kept', body })).json()) as { id: number };
  await enter('TURNS_0', trades(10));
  const failures: string[] = [];
  const expectDone = async (what: string, asked: Promise<Response>) => {
    const answer = await asked;
    if (!answer.ok) failures.push(`${what}: ${answer.status} ${await answer.text()}`);
  };
  const saves = async () => {
    for (let version = 1; version <= 60; version++)
      await expectDone('save', send(`/api/ledgers/${ledger.id}`, 'PUT', { title: `Kept ${version}`, body, version }));
  };
  const renames = async () => {
    for (let turn = 0; turn < 40; turn++)
      await expectDone('rename', send(`/api/tapes/TURNS_${turn}`, 'PATCH', { name: `TURNS_${turn + 1}` }));
  };
  const imports = Array.from({ length: 12 }, (_, i) =>
    expectDone('import', at(`/api/tapes?name=NEW_${i}`, { method: 'POST', body: trades(5000) })),
  );
  const appends = Array.from({ length: 8 }, (_, i) =>
    expectDone('append', at('/api/tapes/SMALL/append', { method: 'POST', body: trades(100, 1_800_000_000 + i * 100) })),
  );
  await Promise.all([saves(), renames(), ...imports, ...appends]);
  expect(failures).toEqual([]);
  // every one of the further files is there whole
  expect(await (await at('/api/tapes/SMALL')).json()).toMatchObject({ rows: 900, version: 9 });
  const { columns } = await (await at('/api/tapes/SMALL/records?limit=1000')).json();
  expect(columns.time.length).toBe(900);
  expect([...columns.time].sort()).toEqual(columns.time);
});

describe('heavy work', () => {
  /** Works for a long time: a Hurst exponent over some hundred thousand bars. */
  const heavy = (turn: number, signal?: AbortSignal) =>
    at('/api/columns', {
      method: 'POST',
      body: JSON.stringify({
        tape: 'BIG',
        bars: `${5 + turn} seconds, all hours`,
        entries: ['hurst(logreturn(close), 512 bars, by: rs)'],
        from: '2023-11-14T22:00:00Z',
        to: '2023-11-14T23:00:00Z',
      }),
      signal,
    });

  it('keeps nobody light waiting', async () => {
    const abort = new AbortController();
    let isAnyDone = false;
    const works = Array.from({ length: 4 }, (_, turn) =>
      heavy(turn, abort.signal).then(
        () => (isAnyDone = true),
        () => undefined,
      ),
    );
    await new Promise((resolve) => setTimeout(resolve, 300));
    for (let turn = 0; turn < 20; turn++)
      for (const path of [
        '/api/tapes',
        '/api/tapes/SMALL/bars?rule=1+minute',
        '/api/tapes/BIG/records?limit=100&offset=700000',
      ])
        expect((await at(path)).status).toBe(200);
    expect(isAnyDone).toBe(false);
    abort.abort();
    await Promise.all(works);
  });

  it('is stopped when its client leaves: the next one has its turn, whatever waited before it', async () => {
    const abort = new AbortController();
    const works = Array.from({ length: 6 }, (_, turn) => heavy(turn, abort.signal).catch(() => undefined));
    await new Promise((resolve) => setTimeout(resolve, 300));
    abort.abort();
    await Promise.all(works);
    // six of those would take minutes
    const answer = await at('/api/tapes/BIG/bars?rule=1+hour', { signal: AbortSignal.timeout(20_000) });
    expect(answer.status).toBe(200);
  });
});
