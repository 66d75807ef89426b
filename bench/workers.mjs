import { startPostgres } from '../scripts/postgres.mjs';
import { findPostgres } from '../scripts/prepare.mjs';
import { soakServer } from './soakServer.mjs';

/*
 * Large work with one server that works for another, and with two: bars of one long tape, and a roll.
 *
 *   npm run bench:workers
 *   SPLIT=40000000 npm run bench:workers   the same bars by one server
 */

const TRADES = 6_000_000;
const TAPES = 200;
const ROWS = 2000;

const fileOf = (rows, step) =>
  Buffer.from(
    `time,price,size\n${Array.from({ length: rows }, (_, row) => `${1_700_000_000 + row * step},${(8000 + ((row * 7919) % 400)) / 100},${1 + (row % 90)}`).join('\n')}\n`,
  );

async function answered(address, init) {
  const started = performance.now();
  const answer = await fetch(address, init);
  await answer.arrayBuffer();
  if (!answer.ok) throw new Error(`${address} answers ${answer.status}`);
  return performance.now() - started;
}
const middle = (times) => times.sort((a, b) => a - b)[times.length >> 1];

if (!findPostgres()) throw new Error('Install PostgreSQL first.');
const database = await startPostgres();
const settings = {
  JAUNTY_DEMO: 'off',
  JAUNTY_STORE: database.database('work'),
  JAUNTY_SPLIT_RECORDS: process.env.SPLIT ?? '750000',
};
const web = await soakServer(4981, { ...settings, JAUNTY_ROLE: 'web' });
const workers = [await soakServer(4982, { ...settings, JAUNTY_ROLE: 'worker' })];
const post = (path, body) =>
  answered(`${web.origin}${path}`, { method: 'POST', body, headers: { 'content-type': 'application/json' } });
await post('/api/tapes?name=BIG&kind=ticks&zone=UTC', fileOf(TRADES, 1));
for (let tape = 0; tape < TAPES; tape++) await post(`/api/tapes?name=T${tape}&kind=ticks&zone=UTC`, fileOf(ROWS, 60));

let turn = 0;
async function measured() {
  const [bars, running, rolls] = [[], [], []];
  for (let round = 0; round < 3; round++) {
    turn++; // nothing that was kept before is asked for
    bars.push(await answered(`${web.origin}/api/tapes/BIG/bars?rule=${10 + turn}+minutes`));
    running.push(await answered(`${web.origin}/api/tapes/BIG/bars?rule=${5000 + turn}+units`));
    const tapes = Array.from({ length: TAPES }, (_, tape) => `T${tape}`);
    const entries = [`h = hurst(logreturn(close), ${200 + turn} bars)`, 'm = mean(close, 9 bars)'];
    rolls.push(await post('/api/rolls', JSON.stringify({ tapes, bars: '1 minute', entries })));
  }
  return { bars: middle(bars), running: middle(running), roll: middle(rolls) };
}
const one = await measured();
workers.push(await soakServer(4983, { ...settings, JAUNTY_ROLE: 'worker' }));
const two = await measured();
console.log('| what | one worker | two workers |\n| --- | ---: | ---: |');
console.log(`| bars of ${TRADES / 1e6} million trades, ms | ${one.bars.toFixed(0)} | ${two.bars.toFixed(0)} |`);
console.log(
  `| bars of 5,000 units of as many, which run on, ms | ${one.running.toFixed(0)} | ${two.running.toFixed(0)} |`,
);
console.log(`| a roll over ${TAPES} tapes, ms | ${one.roll.toFixed(0)} | ${two.roll.toFixed(0)} |`);
for (const server of [web, ...workers]) server.end();
await database.end();
process.exit();
