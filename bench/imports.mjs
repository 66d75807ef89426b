import { execFileSync, spawn } from 'node:child_process';
import { createReadStream, createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { once } from 'node:events';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/prepare.mjs';
import { perSecond, standardRandom, times } from './timing.mjs';

const ROWS = 5_000_000;
const PORT = 4999;

/** Import of a file of trades through the running server, beside the `sqlite3` command's own import of the same file. */
export async function importRows() {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-bench-'));
  try {
    const file = join(folder, 'trades.csv');
    await writeTrades(file);
    const megabytes = statSync(file).size / 1e6;
    const sqliteMs = sqliteImport(file, join(folder, 'plain.sqlite'));
    const ours = await serverImport(file, join(folder, 'data'));
    const rows = [
      ['file', `${ROWS / 1e6} million trades, ${megabytes.toFixed(0)} MB`, ''],
      [
        'import through the server',
        perSecond(ROWS, ours.milliseconds),
        `${times(sqliteMs / ours.milliseconds)} the \`sqlite3\` command`,
      ],
      ['`sqlite3` .import of the same file', perSecond(ROWS, sqliteMs), ''],
      ['on disk', `${(ours.bytes / ROWS).toFixed(2)} bytes a trade`, ''],
      [
        'decoded, one core',
        perSecond(ours.decoded.rows, ours.decoded.milliseconds),
        'with its columns of lines and flags',
      ],
      ['memory of the server at its peak', `${ours.peakMegabytes.toFixed(0)} MB`, ''],
      ['other requests during the import, p99', `${ours.p99.toFixed(0)} ms`, ''],
      [
        '1-minute bars from the store',
        perSecond(ROWS, ours.barsMs),
        `${times(ours.groupMs / ours.barsMs)} the \`sqlite3\` command's GROUP BY`,
      ],
    ];
    return rows;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }

  function sqliteImport(file, database) {
    const started = performance.now();
    execFileSync('sqlite3', [
      database,
      'create table t(time text, price real, size real)',
      '.mode csv',
      `.import ${file} t`,
    ]);
    return performance.now() - started;
  }
}

async function writeTrades(file) {
  const out = createWriteStream(file);
  const random = standardRandom();
  const next = () => random.next().value;
  let at = Date.parse('2026-01-05T08:30:00.015Z');
  let cents = 10_000;
  for (let row = 0; row < ROWS;) {
    let text = '';
    for (const end = Math.min(ROWS, row + 50_000); row < end; row++) {
      at += Math.floor(next() * 1000);
      cents = Math.max(100, cents + Math.round(next() * 4 - 2));
      text += `${new Date(at).toISOString()},${(cents / 100).toFixed(2)},${1 + Math.floor(next() * 400)}\n`;
    }
    if (!out.write(text)) await once(out, 'drain');
  }
  out.end();
  await once(out, 'finish');
}

async function serverImport(file, data) {
  const env = { ...process.env, PORT: String(PORT), JAUNTY_DATA: data, JAUNTY_DEMO: 'off', JAUNTY_LOG: 'error' };
  const server = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    for await (const text of server.stdout) if (String(text).includes('is open at')) break;
    const origin = `http://127.0.0.1:${PORT}`;
    await fetch(`${origin}/api/tapes`);
    let isOver = false;
    const waits = measureOthers(origin, () => isOver);
    const started = performance.now();
    await send(file, `${origin}/api/tapes?name=BENCH`);
    const milliseconds = performance.now() - started;
    isOver = true;
    const p99 = quantile(await waits, 0.99);
    const peakMegabytes = peakMemory(server.pid);
    const bytes = Number(
      execFileSync('sqlite3', [join(data, 'ledger.sqlite'), 'select sum(length(data)) from tape_chunk']),
    );
    const decoded = JSON.parse(
      execFileSync(process.execPath, ['app/build-jobs/measureDecode.js'], {
        cwd: root,
        env: { ...env, JAUNTY_LOG: 'silent' },
        encoding: 'utf8',
      }),
    );
    const barsStarted = performance.now();
    await (
      await fetch(`${origin}/api/tapes/BENCH/bars?rule=1+minute`, {
        headers: { accept: 'application/vnd.apache.arrow.stream' },
      })
    ).arrayBuffer();
    const barsMs = performance.now() - barsStarted;
    const groupStarted = performance.now();
    execFileSync(
      'sqlite3',
      [
        join(data, '..', 'plain.sqlite'),
        'select substr(time,1,16), min(price), max(price), sum(size), sum(price*size), count(*) from t group by 1',
      ],
      { stdio: ['ignore', 'ignore', 'inherit'] },
    );
    const groupMs = performance.now() - groupStarted;
    return { milliseconds, p99, peakMegabytes, bytes, barsMs, groupMs, decoded };
  } finally {
    server.kill('SIGKILL');
  }
}

/** Posts a file as plainly as can be: what is measured is the server, and the sender runs on the same two cores. */
function send(file, address) {
  return new Promise((resolve, reject) => {
    const sent = request(address, { method: 'POST', headers: { 'content-type': 'text/csv' } }, (answer) => {
      answer.resume();
      if (answer.statusCode === 201) answer.on('end', resolve);
      else reject(new Error(`the import was answered with ${answer.statusCode}`));
    });
    sent.on('error', reject);
    createReadStream(file, { highWaterMark: 1 << 20 }).pipe(sent);
  });
}

/** How long other requests wait while something else goes on. */
async function measureOthers(origin, isOver) {
  const waits = [];
  while (!isOver()) {
    const started = performance.now();
    await (await fetch(`${origin}/api/ledgers`)).arrayBuffer();
    waits.push(performance.now() - started);
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  return waits;
}

const quantile = (values, p) => values.sort((a, b) => a - b)[Math.floor(p * (values.length - 1))];

function peakMemory(pid) {
  const status = execFileSync('cat', [`/proc/${pid}/status`], { encoding: 'utf8' });
  return Number(/VmHWM:\s+(\d+)/.exec(status)[1]) / 1024;
}
