import { newTape, openFeed, recordLines } from './liveFeeder.mjs';
import { quantile } from './timing.mjs';

const TAKEN = 600_000;
const PIXELS = 60;
const FOLLOWERS = 100;
const START = Date.UTC(2026, 1, 2, 9);
const pause = (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** A tape that is fed while a page follows it, and while many others do. */
export async function livePageRows(page, origin) {
  return [await takenIn(page, origin), await toPixels(page, origin), await manyFollowers(origin)];
}

async function follow(page, origin, tape) {
  await page.goto(`${origin}/ledger?tape=${tape}`);
  await (await page.waitForSelector('::-p-aria([name="follow"][role="button"])')).click();
  await page.waitForFunction(() => document.body.innerText.includes('following'));
}

async function takenIn(page, origin) {
  await newTape(origin, 'TAKEN', START);
  await follow(page, origin, 'TAKEN');
  let safe = 0;
  const feed = openFeed(origin, 'TAKEN', 'bench', (told) => (safe += told.safe));
  const lines = recordLines(START + 1000, 20_000);
  const started = performance.now();
  for (let sent = 0; sent < TAKEN; sent += 500) {
    let text = '';
    for (let at = 0; at < 500; at++) text += lines.next().value;
    await feed.send(text);
  }
  await feed.end();
  const seconds = (performance.now() - started) / 1000;
  const wanted = `following, ${(TAKEN + 1).toLocaleString('en')} records`;
  await page.waitForFunction((text) => document.body.innerText.includes(text), {}, wanted);
  const behind = performance.now() - started - seconds * 1000;
  return [
    `${TAKEN.toLocaleString('en')} records taken in while a page follows`,
    `${Math.round(safe / seconds).toLocaleString('en')} a second`,
    `safe on the disk; the page shows all of them ${behind.toFixed(0)} ms after the last is safe`,
  ];
}

async function toPixels(page, origin) {
  await newTape(origin, 'PIXELS', START);
  await follow(page, origin, 'PIXELS');
  const feed = openFeed(origin, 'PIXELS', 'bench', () => undefined);
  const took = [];
  for (let seq = 0; seq < PIXELS; seq++) {
    const price = 200 + seq + 0.25;
    const shown = page.evaluate(
      (wanted) =>
        new Promise((resolve) => {
          const look = () =>
            document.querySelector('.lane')?.innerText.includes(wanted)
              ? requestAnimationFrame(() => resolve(Date.now()))
              : requestAnimationFrame(look);
          look();
        }),
      price.toFixed(2),
    );
    await pause(40 + ((seq * 37) % 160));
    const sent = Date.now();
    await feed.send(`{"seq":${seq},"time":${(START + 1000 + seq * 300) * 1000},"price":${price},"size":1}\n`);
    took.push((await shown) - sent);
  }
  await feed.end();
  return [
    'a record until the page shows its price',
    `p95 ${quantile(took, 0.95)} ms`,
    `median ${quantile(took, 0.5)} ms, the longest ${quantile(took, 1)} ms`,
  ];
}

async function manyFollowers(origin) {
  await newTape(origin, 'MANY', START);
  const left = new AbortController();
  const delays = [];
  const sentAt = new Map();
  const one = async () => {
    const query = 'rule=1+minute&entries=m+%3D+mean(close,20+bars)&version=1';
    const answer = await fetch(`${origin}/api/tapes/MANY/follow?${query}`, { signal: left.signal });
    let rest = '';
    for await (const part of answer.body.pipeThrough(new TextDecoderStream())) {
      const events = (rest + part).split('\n\n');
      rest = events.pop();
      for (const event of events) {
        const records = Number(/"records":(\d+)/.exec(event)?.[1]);
        if (sentAt.has(records)) delays.push(performance.now() - sentAt.get(records));
      }
    }
  };
  const followers = Array.from({ length: FOLLOWERS }, () => one().catch(() => undefined));
  await pause(1000);
  const feed = openFeed(origin, 'MANY', 'bench', () => undefined);
  const lines = recordLines(START + 1000, 10);
  for (let batch = 0; batch < 20; batch++) {
    let text = '';
    for (let at = 0; at < 50; at++) text += lines.next().value;
    sentAt.set(1 + (batch + 1) * 50, performance.now());
    await feed.send(text);
    await pause(250);
  }
  await feed.end();
  await pause(500);
  left.abort();
  await Promise.all(followers);
  return [
    `records until each of ${FOLLOWERS} followers is told`,
    `p95 ${quantile(delays, 0.95).toFixed(0)} ms`,
    `median ${quantile(delays, 0.5).toFixed(0)} ms; ${delays.length.toLocaleString('en')} of ${(20 * FOLLOWERS).toLocaleString('en')} told one by one, the others together with later ones`,
  ];
}
