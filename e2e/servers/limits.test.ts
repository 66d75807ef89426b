import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { parquetWriteBuffer } from 'hyparquet-writer';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serve, type Served } from '../servedApp.js';

/* Everything that is taken has a bound, and each bound a refusal of its own. */

/** Bounds that are quickly reached. */
const SETTINGS = {
  JAUNTY_MOST_UPLOAD_MB: '20',
  JAUNTY_MOST_BODY_MB: '1',
  JAUNTY_MOST_PREVIEW_MB: '2',
  JAUNTY_MOST_GROWTH: '50',
  JAUNTY_SILENCE_SECONDS: '2',
  JAUNTY_MOST_IMPORTS: '3',
  JAUNTY_MOST_TAPES_OF_FILE: '5',
  JAUNTY_MOST_COLUMNS: '20',
  JAUNTY_MOST_WORDS: '50',
  JAUNTY_MOST_BARS: '30000',
  JAUNTY_MOST_CELLS: '20000',
  JAUNTY_MOST_SECONDS: '2',
  JAUNTY_MOST_WAITING: '4',
};

let folder: string;
let server: Served;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-limits-'));
  server = await serve(folder, { JAUNTY_DEMO: 'off', ...SETTINGS });
  expect(await refusal('/api/tapes?name=FAR', { method: 'POST', body: FAR })).toBe(undefined);
  expect(await refusal('/api/tapes?name=MANY', { method: 'POST', body: trades(200_000) })).toBe(undefined);
});
afterAll(() => {
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

/** Two trades a century apart. */
const FAR = 'time,price,size\n1926-02-02T08:30:00Z,1,1\n2026-02-02T08:30:00Z,2,1\n';
const trades = (count: number) =>
  `time,price,size\n${Array.from({ length: count }, (_, i) => `${1_700_000_000 + i},${100 + (i % 7)},1`).join('\n')}\n`;

/** The code and the sentence of a refusal; nothing where it was done. */
async function refusal(path: string, init: RequestInit = {}): Promise<string | undefined> {
  const answer = await fetch(server.origin + path, init);
  if (answer.ok) return void (await answer.arrayBuffer());
  const { status, code, detail } = (await answer.json()) as { status: number; code: string; detail: string };
  expect(detail.length, detail).toBeLessThan(1000);
  return `${status} ${code}: ${detail}`;
}

const post = (path: string, body: BodyInit) => refusal(path, { method: 'POST', body });
const enter = (body: BodyInit, query = '') => post(`/api/tapes?name=TRIED${query}`, body);
const columnsOf = (entries: string[], more = {}) =>
  post('/api/columns', JSON.stringify({ tape: 'MANY', bars: '10 seconds, all hours', entries, ...more }));
/** Much work for a short answer. */
const long = () => {
  const windows = Array.from({ length: 24 }, (_, i) => 500 + i).join(', ');
  const entries = Array.from({ length: 20 }, (_, i) => `h${i} = hurst(logreturn(close), [${windows}] bars, by: rs)`);
  return columnsOf(entries, { to: '2023-11-14T22:14:00Z' });
};
const rows = (row: (i: number) => string, count = 100) => Array.from({ length: count }, (_, i) => row(i)).join('\n');

describe('refused beyond its bound', () => {
  it.each<[string, () => Promise<string | undefined>, RegExp]>([
    ['a file', () => enter(trades(1_300_000)), /413 too-large: This takes at most 20 MB/],
    [
      'any other body',
      () => post('/api/ledgers', `{"title":"${'x'.repeat(1 << 20)}"}`),
      /413 too-large: This takes at most 1 MB/,
    ],
    [
      'parts of a file to be looked at',
      () => post('/api/readings', JSON.stringify({ head: 'A'.repeat(3 << 20), tail: '', choices: {}, zone: 'UTC' })),
      /413 too-large: This takes at most 2 MB/,
    ],
    ['a packed file', () => enter(gzipSync(trades(1_300_000))), /413 too-large: .*unpacks to more than 20 MB/],
    [
      'a packed file for its size',
      () => enter(gzipSync(`time,price\n${'1700000000,1\n'.repeat(1_500_000)}`)),
      /413 too-large: .*grows to more than 50 times/,
    ],
    [
      'a file of columns whose rows take no room',
      () =>
        enter(
          new Uint8Array(
            parquetWriteBuffer({
              columnData: ['time', 'price', 'size'].map((name) => ({
                name,
                data: new Float64Array(2_000_000).fill(1_700_000_000),
                type: 'DOUBLE' as const,
              })),
            }),
          ),
        ),
      /413 too-large: .*(unpacks to more|grows to more)/,
    ],
    [
      'instruments of a file',
      () => enter(`time,symbol,price\n${rows((i) => `${1_700_000_000 + i},S${i},1`)}\n`),
      /422 too-many-tapes: .* more than 5 instruments/,
    ],
    [
      'columns of a file',
      () => enter(`time,price,${'x,'.repeat(500_000)}x\n1700000000,1\n`),
      /422 too-many-columns: The file has [\d,]+ columns; at most 20/,
    ],
    [
      'different words of a column',
      () => enter(`time,price,id\n${rows((i) => `${1_700_000_000 + i},1,N${i % 60}`)}\n`),
      /422 too-many-words: .*id has more than 50 different words/,
    ],
    [
      'bars of empty intervals',
      () => refusal('/api/tapes/FAR/bars?rule=1+second,+empty:+carry'),
      /422 too-many-bars: .*more than 30,000 bars/,
    ],
    ['bars of a record each', () => refusal('/api/tapes/MANY/bars?rule=1+trades,+all+hours'), /422 too-many-bars/],
    [
      'figures of an answer',
      () => columnsOf(['mean(close, [2, 3, 4, 5, 6, 7, 8, 9, 10] bars)']),
      /422 too-much-work: The answer would hold [\d,]+ figures/,
    ],
    ['time that work takes', long, /422 too-much-work: This takes longer than 2 seconds/],
  ])('%s', async (_, ask, wanted) => {
    expect(await ask()).toMatch(wanted);
    expect(await refusal('/api/tapes/TRIED')).toMatch(/404/);
    expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
  });

  it('imports at once', async () => {
    const slow = [1, 2, 3].map((turn) => sender(`SLOW_${turn}`, 1000));
    for (const turn of [1, 2, 3]) await expect.poll(() => hasBegun(`SLOW_${turn}`), { timeout: 10_000 }).toBe(true);
    const goOn = setInterval(() => slow.forEach(({ socket }) => socket.write('#')), 300);
    let turn = 0;
    const another = async () => (await post(`/api/tapes?name=NEXT_${++turn}`, FAR)) ?? 'entered';
    await expect.poll(another, { timeout: 20_000 }).toMatch(/503 too-busy: 3 files are being entered/);
    clearInterval(goOn);
    for (const one of slow) one.socket.destroy();
    await expect.poll(another, { timeout: 20_000 }).toBe('entered');
  });

  it('requests that wait for their turn', async () => {
    const answers = await Promise.all(Array.from({ length: 12 }, long));
    expect(
      answers.filter((answer) => answer?.startsWith('503 too-busy: Too many requests wait')).length,
    ).toBeGreaterThan(3);
    expect(answers.filter((answer) => answer?.startsWith('422 too-much-work')).length).toBeGreaterThan(0);
  });

  it('each is told of in docs/limits.md', () => {
    const page = readFileSync(new URL('../../docs/limits.md', import.meta.url), 'utf8');
    for (const setting of Object.keys(SETTINGS)) expect(page).toContain(setting);
  });
});

const hasBegun = async (name: string) => (await (await fetch(`${server.origin}/api/imports/${name}`)).json()) !== null;

/** Whoever sends a file by hand, a part at a time. */
function sender(name: string, contentLength: number) {
  const { port } = new URL(server.origin);
  const socket = connect(Number(port), '127.0.0.1');
  let answer = '';
  socket.on('data', (data) => (answer += data.toString()));
  socket.on('error', () => undefined);
  socket.write(
    `POST /api/tapes?name=${name} HTTP/1.1\r\nhost: 127.0.0.1:${port}\r\ncontent-type: text/csv\r\nx-import: ${name}\r\ncontent-length: ${contentLength}\r\n\r\n`,
  );
  return { socket, answer: () => answer };
}

describe('a sender', () => {
  it('that falls silent is told so, and nothing is left of what it sent', async () => {
    const { socket, answer } = sender('SILENT', 1000);
    socket.write('time,price\n1700000000,1\n');
    await expect.poll(answer, { timeout: 8000 }).toMatch(/^HTTP\/1.1 408[^]*sender-silent/);
    socket.destroy();
    expect(await refusal('/api/tapes/SILENT')).toMatch(/404/);
    expect(readdirSync(join(folder, 'incoming'))).toEqual([]);
  });

  it('that is slow but goes on is heard to the end, however long it takes', async () => {
    const lines = ['time,price\n', ...Array.from({ length: 8 }, (_, i) => `${1_700_000_000 + i},1\n`)];
    const { socket, answer } = sender('SLOW', lines.join('').length);
    // longer in all than it may be silent
    for (const line of lines) {
      socket.write(line);
      await new Promise((resolve) => setTimeout(resolve, 400));
    }
    await expect.poll(answer, { timeout: 8000 }).toMatch(/^HTTP\/1.1 201/);
    socket.destroy();
  });

  it('is told for how long its idle connection stays open', async () => {
    const answer = await fetch(`${server.origin}/api/health`);
    expect(answer.headers.get('keep-alive')).toBe('timeout=75');
  });

  it('hears why it is refused while it still sends', async () => {
    const { socket, answer } = sender('LONG', 21 << 20);
    const timer = setInterval(() => socket.write('x'.repeat(1000)), 20);
    await expect.poll(answer, { timeout: 8000 }).toMatch(/^HTTP\/1.1 413[^]*too-large/);
    clearInterval(timer);
    socket.destroy();
  });
});
