import { statSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { client } from './soakClient.mjs';
import { soakServer } from './soakServer.mjs';

/*
 * A server under work for some minutes: files come in, heavy questions are asked, and 20 light requests a second go on beside
 * it. Says how long the light ones took, whether anything failed, and whether the server or its log has grown.
 *
 *   npm run soak -- 10        minutes; 10 if not told
 */

const MINUTES = Number(process.argv[2] ?? 10);
const { origin, folder, server, memory, end } = await soakServer(4998);

const until = Date.now() + MINUTES * 60_000;
const isOver = () => Date.now() > until;
const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));
const { ask, failures } = client(origin);
const counts = { heavy: 0, imports: 0 };

const trades = (count, from) => {
  const lines = Array.from(
    { length: count },
    (_, row) => `${from + row},${(8000 + ((row * 7919) % 400)) / 100},${1 + (row % 90)}`,
  );
  return Buffer.from(`time,price,size\n${lines.join('\n')}\n`);
};
// made once: what is measured is the server, not the making of files
const FIRST = trades(400_000, 1_700_000_000);
const FURTHER = trades(50_000, 1_700_390_000);

/** In a thread of its own, so that what this one does is not taken for a wait. */
function lightWork() {
  const worker = new Worker(new URL('./soakLight.mjs', import.meta.url), { workerData: { origin, until } });
  return new Promise((resolve, reject) => worker.once('message', resolve).once('error', reject));
}

/** Files come in, further ones are added, tapes are renamed, given another calendar, and deleted. */
async function imports(lane) {
  for (let turn = 0; !isOver(); turn++) {
    const name = `SOAK_${lane}_${turn}`;
    await ask(`/api/tapes?name=${name}`, { method: 'POST', body: FIRST });
    await ask(`/api/tapes/${name}/append`, { method: 'POST', body: FURTHER });
    await ask(`/api/tapes/${name}`, {
      method: 'PATCH',
      body: JSON.stringify({ session: '08:00-17:00' }),
      headers: { 'content-type': 'application/json' },
    });
    await ask(`/api/tapes/${name}`, { method: 'DELETE' });
    counts.imports++;
  }
}

async function heavyWork() {
  for (let turn = 0; !isOver(); turn++) {
    const entries = ['h = hurst(logreturn(close), 256 bars, by: dfa)', 'm = median(close, 500 bars)'];
    const body = JSON.stringify({ tape: 'KELP', bars: `${1 + (turn % 9)} trades`, entries });
    await ask('/api/columns', {
      method: 'POST',
      body,
      headers: { accept: 'text/csv', 'content-type': 'application/json' },
    });
    counts.heavy++;
  }
}

const logMegabytes = () => statSync(join(folder, 'ledger.sqlite-wal')).size / 1e6;

async function sizes() {
  const found = [];
  while (!isOver()) {
    found.push({ memory: memory(), log: logMegabytes() });
    await pause(1000);
  }
  return found;
}

const [light, grown] = await Promise.all([lightWork(), sizes(), imports(0), imports(1), heavyWork(), heavyWork()]);
server.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
end();

const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];
const part = (what, from, to) =>
  median(grown.slice(from * grown.length, to * grown.length).map((sizes) => sizes[what])).toFixed(0);
const failed = [...failures, ...light.failures];
console.log(
  `${MINUTES} minutes: ${light.count} light requests, ${counts.imports} rounds of imports, ${counts.heavy} heavy ones`,
);
console.log(
  `light requests: median ${light.median.toFixed(0)} ms, p99 ${light.p99.toFixed(0)} ms, longest ${light.longest.toFixed(0)} ms`,
);
console.log(`the slowest: ${light.slowest.map(({ took, path }) => `${took.toFixed(0)} ms ${path}`).join(', ')}`);
for (const what of ['memory', 'log'])
  console.log(`${what} in the second fifth ${part(what, 0.2, 0.4)} MB, in the last ${part(what, 0.8, 1)} MB`);
console.log(failed.length === 0 ? 'nothing failed' : `${failed.length} failed: ${failed.slice(0, 5).join('; ')}`);
process.exitCode = failed.length === 0 && light.p99 < 300 ? 0 : 1;
