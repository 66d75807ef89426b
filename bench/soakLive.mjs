import { statSync } from 'node:fs';
import { join } from 'node:path';
import { newTape, openFeed, recordLines } from './liveFeeder.mjs';
import { soakServer } from './soakServer.mjs';
import { quantile } from './timing.mjs';

/*
 * A tape that is fed for long, 2,000 records a second, while one follows it. Says how large the server and its store are as it
 * goes on, and how long records took to be safe.
 *
 *   npm run soak:live -- 60   minutes; 5 if not told
 */

const MINUTES = Number(process.argv[2] ?? 5);
const PER_SECOND = 2000;
const START = Date.UTC(2026, 1, 2, 0);

const { origin, folder, memory, end } = await soakServer(4995, { JAUNTY_DEMO: 'off' });
const disk = () =>
  ['ledger.sqlite', 'ledger.sqlite-wal'].reduce((sum, name) => sum + statSync(join(folder, name)).size, 0) / 2 ** 20;
const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));

await newTape(origin, 'LONG', START);
let events = 0;
void fetch(`${origin}/api/tapes/LONG/follow?rule=1+minute&version=1&entries=m+%3D+mean(close,20+bars)`).then(
  async (answer) => {
    for await (const _ of answer.body) events++;
  },
);
const sentAt = [];
const took = [];
let safe = 0;
const feed = openFeed(origin, 'LONG', 'soak', ({ safe: records, sequence }) => {
  safe += records;
  const sent = sentAt[Math.floor(sequence / (PER_SECOND / 10))];
  if (sent !== undefined) took.push(performance.now() - sent);
});
const lines = recordLines(START + 1000, PER_SECOND);
const started = performance.now();
for (let batch = 0; batch < MINUTES * 600; batch++) {
  let text = '';
  for (let at = 0; at < PER_SECOND / 10; at++) text += lines.next().value;
  sentAt[batch] = performance.now();
  await feed.send(text);
  const due = started + (batch + 1) * 100;
  if (due > performance.now()) await pause(due - performance.now());
  if (batch % 600 === 599)
    console.log(
      `minute ${(batch + 1) / 600}: ${safe.toLocaleString('en')} safe, memory ${memory().toFixed(0)} MB, store ${disk().toFixed(0)} MB, ` +
        `safe after p95 ${quantile(took.splice(0), 0.95).toFixed(0)} ms, ${events.toLocaleString('en')} events`,
    );
}
await feed.end();
const { rows } = await (await fetch(`${origin}/api/tapes/LONG`)).json();
console.log(
  `${rows.toLocaleString('en')} records in the tape, ${(MINUTES * 60 * PER_SECOND + 1).toLocaleString('en')} sent`,
);
end();
process.exit(rows === MINUTES * 60 * PER_SECOND + 1 ? 0 : 1);
