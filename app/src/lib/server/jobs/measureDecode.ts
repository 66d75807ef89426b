import { decodeChunk, type TapeChunk } from '../chunks/tapeChunk';
import { settings } from '../settings';
import { chunksBetween } from '../store/chunks';
import { connect } from '../store/connection';
import { listTapes } from '../store/tapes';

/* For the bench: how fast the first tape of a store is decoded, on one core, once its bytes are in memory. */

const db = connect(settings.JAUNTY_DATA);
const [tape] = await listTapes(db);
const chunks: TapeChunk[] = [];
for await (const chunk of chunksBetween(db, tape.id, -Infinity, Infinity)) chunks.push(chunk);
await db.destroy();
let best = Infinity;
for (let run = 0; run < 5; run++) {
  const started = performance.now();
  for (const chunk of chunks) decodeChunk(chunk);
  best = Math.min(best, performance.now() - started);
}
process.stdout.write(JSON.stringify({ rows: tape.rows, milliseconds: best }));
