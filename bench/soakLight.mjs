import { parentPort, workerData } from 'node:worker_threads';
import { client } from './soakClient.mjs';

/* The light requests of the soak: 20 a second, whether or not the ones before have been answered. */

const LIGHT = [
  '/api/tapes',
  '/api/ledgers',
  '/api/tapes/KELP_days/bars?rule=1+week',
  '/api/tapes/KELP/records?limit=200&offset=100000',
  '/api/tapes/SALT_days',
  '/api/functions',
  '/records',
];
const PER_SECOND = 20;

const { origin, until } = workerData;
const { ask, failures } = client(origin);
const waits = [];

async function one(path) {
  const started = performance.now();
  await ask(path);
  waits.push({ took: performance.now() - started, path });
}

const asked = [];
for (let turn = 0; Date.now() < until; turn++) {
  asked.push(one(LIGHT[turn % LIGHT.length]));
  await new Promise((resolve) => setTimeout(resolve, 1000 / PER_SECOND));
}
await Promise.all(asked);

waits.sort((a, b) => a.took - b.took);
const quantile = (p) => waits[Math.floor(p * (waits.length - 1))].took;
parentPort.postMessage({
  count: waits.length,
  median: quantile(0.5),
  p99: quantile(0.99),
  longest: quantile(1),
  slowest: waits.slice(-5).reverse(),
  failures,
});
