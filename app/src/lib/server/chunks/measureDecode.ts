import { decodeChunk, type TapeChunk } from '../chunks/tapeChunk';
import { settings } from '../settings';
import { chunksBetween } from '../store/chunks';
import { connectStore } from '../store/openStore';
import { listTapes } from '../store/tapes';

/* For the bench: how fast the first tape of a store is decoded, on one core, once its bytes are in memory. */

const store = connectStore(settings.JAUNTY_STORE, settings.JAUNTY_STORE_READ);
const [tape] = await store.read(listTapes);
const chunks: TapeChunk[] = [];
for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity)) chunks.push(chunk);
await store.close();
let best = Infinity;
for (let run = 0; run < 5; run++) {
  const started = performance.now();
  for (const chunk of chunks) decodeChunk(chunk);
  best = Math.min(best, performance.now() - started);
}
process.stdout.write(JSON.stringify({ rows: tape.rows, milliseconds: best }));
