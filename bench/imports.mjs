import { execFileSync, spawn } from 'node:child_process';
import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs';
import { once } from 'node:events';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from '../scripts/prepare.mjs';
import { SERVER_ARGUMENTS } from '../scripts/serverArguments.mjs';
import { perSecond, quantile, standardRandom, times } from './timing.mjs';

const ROWS = 5_000_000;
const PORT = 4999;

/** Import of a file of trades through the running server, beside the `sqlite3` command's own import of the same file. */
export async function importRows() {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-bench-'));
  try {
    const file = join(folder, 'trades.csv');
    await writeTrades(file);
    const megabytes = statSync(file).size / 1e6;
    const ours = await besideEachOther(file, folder);
    const { sqliteMs } = ours;
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
        `${times(ours.groupMs / ours.barsMs)} the \`sqlite3\` command's GROUP BY; the first of a new server ${ours.firstBarsMs.toFixed(0)} ms`,
      ],
    ];
    return rows;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function sqliteImport(file, database) {
  rmSync(database, { force: true });
  return sqliteTakes(database, 'create table t(time text, price real, size real)', '.mode csv', `.import ${file} t`);
}

const sqliteGroups = (database) =>
  sqliteTakes(
    database,
    'select substr(time,1,16), min(price), max(price), sum(size), sum(price*size), count(*) from t group by 1',
  );

async function sqliteTakes(database, ...commands) {
  const started = performance.now();
  await done(spawn('sqlite3', [database, ...commands], { stdio: ['ignore', 'ignore', 'inherit'] }));
  return performance.now() - started;
}

/** @throws where a command fails */
async function done(command) {
  const [code] = await once(command, 'exit');
  if (code !== 0) throw new Error(`${command.spawnfile} ended with ${code}`);
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

/** Each of two does the same in turn, and the best of its runs counts: what the machine does meanwhile hits both. */
const RUNS = 5;

async function besideEachOther(file, folder) {
  const data = join(folder, 'data');
  const database = join(folder, 'plain.sqlite');
  const env = { ...process.env, PORT: String(PORT), JAUNTY_DATA: data, JAUNTY_DEMO: 'off', JAUNTY_LOG: 'error' };
  const server = spawn(process.execPath, SERVER_ARGUMENTS, {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    for await (const text of server.stdout) if (String(text).includes('is open at')) break;
    const origin = `http://127.0.0.1:${PORT}`;
    await fetch(`${origin}/api/tapes`);
    const found = { sqliteMs: Infinity, milliseconds: Infinity, groupMs: Infinity, barsMs: Infinity, p99: NaN };
    const least = (name, value) => (found[name] = Math.min(found[name], value));
    for (let run = 0; run < RUNS; run++) {
      least('sqliteMs', await sqliteImport(file, database));
      const started = performance.now();
      await send(file, `${origin}/api/tapes?name=BENCH_${run}`);
      least('milliseconds', performance.now() - started);
    }
    // by itself: who asks all the time would take of the import what the other import need not give
    let isOver = false;
    const waits = measureOthers(origin, () => isOver);
    await send(file, `${origin}/api/tapes?name=BENCH_OTHERS`);
    isOver = true;
    found.p99 = quantile(await waits, 0.99);
    found.peakMegabytes = peakMemory(server.pid);
    const sum =
      'select sum(length(data)) from chunk where generation_id = (select generation_id from tape order by id limit 1)';
    found.bytes = Number(execFileSync('sqlite3', [join(data, 'ledger.sqlite'), sum]));
    found.decoded = JSON.parse(
      execFileSync(process.execPath, ['app/build-jobs/measureDecode.js'], {
        cwd: root,
        env: { ...env, JAUNTY_LOG: 'silent' },
        encoding: 'utf8',
      }),
    );
    found.firstBarsMs = await barsFromStore(origin, 'BENCH_0', '2 minutes');
    for (let run = 0; run < RUNS; run++) {
      // each time a tape whose bars were not asked for yet, so that none of them is kept
      least('barsMs', await barsFromStore(origin, `BENCH_${run}`, '1 minute'));
      least('groupMs', await sqliteGroups(database));
    }
    return found;
  } finally {
    server.kill('SIGKILL');
  }
}

async function barsFromStore(origin, tape, rule) {
  const started = performance.now();
  const query = new URLSearchParams({ rule });
  const headers = { accept: 'application/vnd.apache.arrow.stream' };
  await (await fetch(`${origin}/api/tapes/${tape}/bars?${query}`, { headers })).arrayBuffer();
  return performance.now() - started;
}

/** Posts a file as the README says, with a sender that takes little of the two cores: what is measured is the server. */
async function send(file, address) {
  const options = ['--silent', '--fail', '--request', 'POST', '--header', 'content-type: text/csv', '--output', '-'];
  const sender = spawn('curl', [...options, '--upload-file', file, address], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const [code] = await once(sender, 'exit');
  if (code !== 0) throw new Error(`the import failed: curl ended with ${code}`);
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

function peakMemory(pid) {
  const status = execFileSync('cat', [`/proc/${pid}/status`], { encoding: 'utf8' });
  return Number(/VmHWM:\s+(\d+)/.exec(status)[1]) / 1024;
}
