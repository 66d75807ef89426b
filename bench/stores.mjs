import { findPostgres } from '../scripts/prepare.mjs';
import { startPostgres } from '../scripts/postgres.mjs';
import { roundRobin } from '../scripts/proxy.mjs';
import { soakServer } from './soakServer.mjs';
import { quantile } from './timing.mjs';

/*
 * A store in a folder beside one on a PostgreSQL server on the same machine, and one server beside two.
 *
 *   npm run bench:stores
 */

const TRADES = 2_000_000;
const SAVES = 200;
const CLIENTS = 50;
const LIGHT_MS = 10_000;
const LIGHT = ['/api/tapes', '/api/ledgers', '/api/tapes/BIG', '/api/tapes/BIG/records?limit=200&offset=1000000'];

const file = (() => {
  const lines = Array.from(
    { length: TRADES },
    (_, row) => `${1_700_000_000 + row},${(8000 + ((row * 7919) % 400)) / 100},${1 + (row % 90)}`,
  );
  return Buffer.from(`time,price,size\n${lines.join('\n')}\n`);
})();
const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
const ledger = { title: 'Measured', body: { tape: 'BIG', rule: '1 hour', view: null, lanes } };

async function timed(work) {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

async function answered(address, init) {
  const answer = await fetch(address, init);
  await answer.arrayBuffer();
  if (!answer.ok) throw new Error(`${address} answers ${answer.status}`);
}

/** @param origin  of the server, or of the proxy before several */
async function measured(origin) {
  const post = (path, body) =>
    answered(`${origin}${path}`, { method: 'POST', body, headers: { 'content-type': 'application/json' } });
  const entered = await timed(() => post('/api/tapes?name=BIG&kind=ticks&zone=UTC', file));
  const bars = () =>
    timed(() => answered(`${origin}/api/tapes/BIG/bars?rule=1+minute`, { headers: { accept: 'text/csv' } }));
  const first = await bars();
  const again = Math.min(await bars(), await bars());
  const saves = [];
  for (let save = 0; save < SAVES; save++) saves.push(await timed(() => post('/api/ledgers', JSON.stringify(ledger))));
  const waits = [];
  const until = performance.now() + LIGHT_MS;
  const began = performance.now();
  await Promise.all(
    Array.from({ length: CLIENTS }, async (_, client) => {
      for (let turn = client; performance.now() < until; turn++)
        waits.push(await timed(() => answered(origin + LIGHT[turn % LIGHT.length])));
    }),
  );
  return {
    'import, million trades a second': (TRADES / entered / 1000).toFixed(2),
    'minute bars from the store, first, ms': first.toFixed(0),
    'minute bars, again, ms': again.toFixed(0),
    'ledger saved, median ms': quantile(saves, 0.5).toFixed(1),
    'ledger saved, p99 ms': quantile(saves, 0.99).toFixed(1),
    [`light requests of ${CLIENTS} clients, a second`]: ((waits.length * 1000) / (performance.now() - began)).toFixed(
      0,
    ),
    'the same, p99 ms': quantile(waits, 0.99).toFixed(0),
  };
}

const found = {};
const settings = { JAUNTY_DEMO: 'off' };
const alone = await soakServer(4991, settings);
found['a folder'] = await measured(alone.origin);
alone.end();
if (findPostgres()) {
  const database = await startPostgres();
  const one = await soakServer(4992, { ...settings, JAUNTY_STORE: database.database('one') });
  found['PostgreSQL'] = await measured(one.origin);
  one.end();
  const JAUNTY_STORE = database.database('two');
  const two = [
    await soakServer(4993, { ...settings, JAUNTY_STORE }),
    await soakServer(4994, { ...settings, JAUNTY_STORE }),
  ];
  const proxy = await roundRobin(
    two.map(({ origin }) => origin),
    4990,
  );
  found['PostgreSQL, two servers'] = await measured('http://127.0.0.1:4990');
  proxy.close();
  proxy.closeAllConnections();
  for (const server of two) server.end();
  await database.end();
}
const names = Object.keys(found);
console.log(`| what | ${names.join(' | ')} |\n| --- |${' ---: |'.repeat(names.length)}`);
for (const what of Object.keys(found[names[0]]))
  console.log(`| ${what} | ${names.map((name) => found[name][what]).join(' | ')} |`);
process.exit();
