import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import knex from 'knex';
import { SqliteClient } from '../../app/src/lib/server/store/sqlite/sqliteClient.js';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { isInFolder, serve } from '../servedApp.js';
import { KILLS } from './kills.js';

/* What happens to an import happens to the import alone: what was entered before stays whole. */

let folder: string;
let server: Awaited<ReturnType<typeof serve>>;

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-faults-'));
  server = await serve(folder, { JAUNTY_DEMO: 'off' });
});
afterEach(() => {
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

/** So many trades, a second apart. */
function trades(count: number): string {
  const lines = Array.from(
    { length: count },
    (_, i) => `${1770021000 + i},${(8000 + ((i * 7919) % 400)) / 100},${1 + (i % 90)}`,
  );
  return `time,price,size\n${lines.join('\n')}\n`;
}

const post = (name: string, body: BodyInit, init: RequestInit = {}) =>
  fetch(`${server.origin}/api/tapes?name=${name}`, { method: 'POST', body, ...init });
const names = async () =>
  ((await (await fetch(`${server.origin}/api/tapes?limit=1000`)).json()) as { name: string }[]).map(({ name }) => name);
const recordsOf = async (name: string) =>
  (await fetch(`${server.origin}/api/tapes/${name}/records?limit=100000`, { headers: { accept: 'text/csv' } })).text();
const incoming = () => readdirSync(join(folder, 'incoming'));

it('a kill at any moment of an import leaves a store that opens, every earlier tape whole, and no half of one', async () => {
  await post('BEFORE', trades(70_000));
  const before = await recordsOf('BEFORE');
  const file = trades(400_000);
  let entered = 0;
  for (let kill = 0; kill < KILLS; kill++) {
    const sent = post(`NEW_${kill}`, file).then(
      () => entered++,
      () => undefined,
    );
    await new Promise((resolve) => setTimeout(resolve, 10 + (kill * 800) / KILLS));
    server.process.kill('SIGKILL');
    await sent;
    server = await serve(folder, { JAUNTY_DEMO: 'off' });
    expect(incoming()).toEqual([]);
    for (const name of await names())
      if (name !== 'BEFORE')
        expect((await (await fetch(`${server.origin}/api/tapes/${name}`)).json()).rows).toBe(400_000);
  }
  expect(await recordsOf('BEFORE')).toBe(before);
  expect((await names()).length).toBeGreaterThanOrEqual(entered + 1);
}, 180_000);

/**
 * Sends the head of a request and then parts of its body, one after the other, until there are no more or the server
 * answers. Gives the first line of the answer.
 */
function sendParts(name: string, contentLength: number, parts: Iterable<string>): Promise<string> {
  const { port } = new URL(server.origin);
  return new Promise((resolve) => {
    const rest = parts[Symbol.iterator]();
    let answer = '';
    const socket = connect(Number(port), '127.0.0.1');
    const sendNext = () => {
      const next = rest.next();
      if (next.done) setTimeout(() => socket.destroy(), 300);
      else socket.write(next.value, sendNext);
    };
    const head = `POST /api/tapes?name=${name} HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\ncontent-type: text/csv\r\ncontent-length: ${contentLength}\r\n\r\n`;
    socket.write(head, sendNext);
    socket.on('data', (data) => {
      answer += data.toString();
      socket.destroy();
    });
    socket.on('error', () => undefined); // the other side has had enough
    socket.on('close', () => resolve(answer.split('\r\n')[0]));
  });
}

describe('nothing of it is left, and the server goes on', () => {
  it('when the body breaks off within a line', async () => {
    await sendParts('CUT', 9_999_999, ['time,price,size\n1770021000,84.2,1\n17700210']);
    await expect.poll(incoming, { timeout: 5000 }).toEqual([]);
    expect(await names()).toEqual([]);
  });

  it('when the sender stops', async () => {
    const abort = new AbortController();
    const sent = post('STOPPED', trades(1_000_000), { signal: abort.signal }).catch(() => 'stopped');
    setTimeout(() => abort.abort(), 200);
    expect(await sent).toBe('stopped');
    await expect.poll(incoming, { timeout: 10_000 }).toEqual([]);
    expect(await names()).toEqual([]);
  });

  it('when the client leaves after the last byte, while its file is imported', async () => {
    const body = gzipSync(trades(1_500_000));
    const { host, port } = new URL(server.origin);
    const socket = connect(Number(port), '127.0.0.1');
    socket.write(
      `POST /api/tapes?name=LEFT HTTP/1.1\r\nhost: ${host}\r\ncontent-type: application/gzip\r\nx-import: LEFT\r\ncontent-length: ${body.length}\r\n\r\n`,
    );
    await new Promise((sent) => socket.write(body, sent));
    const progress = async () => (await fetch(`${server.origin}/api/imports/LEFT`)).json();
    await expect.poll(progress).not.toBe(null);
    socket.destroy();
    await expect.poll(progress, { timeout: 30_000 }).toBe(null);
    expect(incoming()).toEqual([]);
    expect(await names()).toEqual([]);
  });

  it('when a line has no end', async () => {
    // two gigabytes, if anybody took them; the answer comes long before
    const part = 'A'.repeat(1 << 20);
    const endless = (function* () {
      for (let megabyte = 0; megabyte < 2048; megabyte++) yield part;
    })();
    expect(await sendParts('ENDLESS', 2 ** 31, endless)).toContain('422');
    await expect.poll(incoming, { timeout: 5000 }).toEqual([]);
    expect(await names()).toEqual([]);
  });

  it('of two imports of one name at once, one is entered', async () => {
    const answers = await Promise.all([post('TWICE', trades(1000)), post('TWICE', trades(1000))]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    expect(await names()).toEqual(['TWICE']);
  });
});

it.runIf(isInFolder)(
  'a first start that is killed while the demo world is made begins anew, and makes all of it',
  async () => {
    const fresh = join(folder, 'fresh');
    for (const moment of ['Making the demo world', 'SALT:', 'LAMP:']) {
      const killed = serve(fresh, {}, (printed, { pid }) => printed.includes(moment) && process.kill(pid!, 'SIGKILL'));
      await expect(killed).rejects.toThrow('the server ended with null');
    }
    const started = await serve(fresh);
    const tapes = (await (await fetch(`${started.origin}/api/tapes?limit=1000`)).json()) as unknown[];
    const ledgers = (await (await fetch(`${started.origin}/api/ledgers?limit=1000`)).json()) as unknown[];
    started.process.kill('SIGKILL');
    expect([tapes.length, ledgers.length]).toEqual([24, 5]);
    // nothing of the starts before is left in the store
    const store = knex({
      client: SqliteClient,
      connection: { filename: join(fresh, 'ledger.sqlite') },
      useNullAsDefault: true,
    });
    const [{ generations }] = await store('generation').count({ generations: '*' });
    const [{ strangers }] = await store('chunk')
      .whereNotIn('generation_id', store('tape').select('generation_id'))
      .count({ strangers: '*' });
    await store.destroy();
    expect([generations, strangers]).toEqual([24, 0]);
  },
  120_000,
);

it('a server that is asked to end stops the imports under way, leaves nothing of them, and closes its store', async () => {
  await post('BEFORE', trades(10));
  const sent = sendParts(
    'SLOW&checks=repeat:leave-out',
    9_999_999,
    (function* () {
      yield 'time,price,size\n';
      for (let row = 0; row < 400_000; row++) yield `${1770021000 + row},84.2,1\n`;
    })(),
  );
  await expect.poll(incoming, { timeout: 10_000 }).not.toEqual([]);
  const ended = new Promise((resolve) => server.process.once('exit', resolve));
  server.process.kill('SIGTERM');
  await Promise.all([sent, ended]);
  expect(incoming()).toEqual([]);
  expect(readdirSync(folder)).not.toContain('ledger.sqlite-wal');
  server = await serve(folder, { JAUNTY_DEMO: 'off' });
  expect(await names()).toEqual(['BEFORE']);
});

it.runIf(isInFolder)('a damaged part of a tape is found by its checksum and named', async () => {
  await post('HURT', trades(70_000));
  server.process.kill('SIGKILL');
  const store = knex({
    client: SqliteClient,
    connection: { filename: join(folder, 'ledger.sqlite') },
    useNullAsDefault: true,
  });
  await store('chunk')
    .where({ sequence: 1 })
    .update({ data: store.raw('zeroblob(length(data))') });
  await store.destroy();
  server = await serve(folder, { JAUNTY_DEMO: 'off' });
  const tape = `${server.origin}/api/tapes/HURT`;
  const before: unknown = await (await fetch(tape)).json();
  // to cut bars, to add a file and to flag by another calendar all go through the records
  for (const answer of [
    await fetch(`${tape}/bars?rule=1+hour`),
    await fetch(`${tape}/append`, { method: 'POST', body: `time,price,size\n${1770021000 + 69_990},84,1\n` }),
    await fetch(tape, { method: 'PATCH', body: JSON.stringify({ session: '08:00-09:00' }) }),
  ]) {
    expect(answer.status).toBe(500);
    expect(await answer.json()).toMatchObject({
      code: 'damaged-tape',
      detail: expect.stringContaining('Part 2 of HURT is damaged'),
    });
  }
  expect(await (await fetch(tape)).json()).toEqual(before);
});

/** A file system of 3 MB needs the right to mount one. */
const canMount =
  process.getuid?.() === 0 &&
  spawnSync('sh', ['-c', 'd=$(mktemp -d) && mount -t tmpfs -o size=64k tmpfs "$d" && umount "$d"']).status === 0;

it.runIf(isInFolder && canMount)('a full disk is told as such, and what was entered before stays', async () => {
  const small = join(folder, 'small');
  mkdirSync(small);
  execFileSync('mount', ['-t', 'tmpfs', '-o', 'size=3m', 'tmpfs', small]);
  const elsewhere = server;
  try {
    server = await serve(small, { JAUNTY_DEMO: 'off' });
    await post('FITS', trades(1000));
    const answer = await post('TOO_MUCH', trades(1_500_000));
    expect(answer.status).toBe(507);
    expect(await answer.json()).toMatchObject({
      code: 'store-failed',
      detail: expect.stringContaining('disk of the database is full'),
    });
    expect(await names()).toEqual(['FITS']);
    expect((await recordsOf('FITS')).split('\n').length).toBe(1002);
    expect(readdirSync(join(small, 'incoming'))).toEqual([]);
    // and a server starts without any room, reads, and writes again once there is some
    server.process.kill('SIGKILL');
    const fillers = [join(small, 'before'), join(small, 'after')];
    const fill = (file: string) => spawnSync('dd', ['if=/dev/zero', `of=${file}`, 'bs=4k']);
    fill(fillers[0]);
    server = await serve(small, { JAUNTY_DEMO: 'off' });
    expect((await recordsOf('FITS')).split('\n').length).toBe(1002);
    fill(fillers[1]); // what the start has cleared away
    const health = async () => (await fetch(`${server.origin}/api/health`)).json();
    expect((await post('MORE', trades(1_500_000))).status).toBe(507);
    expect(await health()).toEqual({ alive: true, ready: true, writes: false });
    for (const file of fillers) rmSync(file);
    expect((await post('MORE', trades(1000))).status).toBe(201);
    expect(await health()).toEqual({ alive: true, ready: true, writes: true });
  } finally {
    server.process.kill('SIGKILL');
    execFileSync('umount', ['-l', small]);
    server = elsewhere;
  }
});
