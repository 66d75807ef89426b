import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer from 'puppeteer-core';
import { CHROMIUM_FLAGS } from '../scripts/chromiumFlags.mjs';
import { findChromium, root } from '../scripts/prepare.mjs';
import { SERVER_ARGUMENTS } from '../scripts/serverArguments.mjs';
import { comparePageRows, rollRows } from './compare.mjs';
import { handoverPageRows } from './handover.mjs';
import { livePageRows } from './live.mjs';
import { examinePageRows } from './examine.mjs';
import { quantile as quantileOf, standardRandom } from './timing.mjs';

const PORT = 4997;
const BARS = 1_000_000;
const ENTRIES = [
  ['price', 'quick = ema(close, 12 bars)'],
  ['price', 'slow = mean(close, 200 bars)'],
  ['price', 'hem = bands(close, 50 bars, 2)'],
  ['volume', 'usual = mean(volume, 60 bars)'],
  ['wild', 'wild = stdev(logreturn(close), 60 bars)'],
  ['wild', 'reach = atr(14 bars) / close'],
];

/** Pages in a browser: the ledger with a million bars and with the demo, and an examination. */
export async function pageRows() {
  const folder = mkdtempSync(join(tmpdir(), 'jaunty-pages-'));
  const env = { ...process.env, PORT: String(PORT), JAUNTY_DATA: join(folder, 'data'), JAUNTY_LOG: 'error' };
  const server = spawn(process.execPath, SERVER_ARGUMENTS, {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    for await (const text of server.stdout) if (String(text).includes('is open at')) break;
    const browser = await puppeteer.launch({
      executablePath: findChromium(),
      userDataDir: join(folder, 'profile'),
      args: CHROMIUM_FLAGS,
    });
    const page = await browser.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    const origin = `http://127.0.0.1:${PORT}`;
    const demo = await untilReady(page, `${origin}/ledger/1`);
    const again = await untilReady(page, `${origin}/ledger/1`);
    const rows = [
      ['the demo, from navigation to drawn bars', `${again.toFixed(0)} ms`, `the first visit ${demo.toFixed(0)} ms`],
    ];
    const id = await millionBars(origin);
    const opened = await untilReady(page, `${origin}/ledger/${id}`);
    rows.push(['a million bars, 3 lanes, 6 entries, opened', `${(opened / 1000).toFixed(1)} s`, '']);
    await page.waitForFunction(
      (count) => document.querySelectorAll('.entry :is(.figures, .several)').length === count,
      {},
      ENTRIES.length,
    );
    for (const [says, delta] of [
      ['zoom by the wheel', 0],
      ['pan by the wheel', 1],
    ]) {
      const frames = await page.evaluate(framesWhile, delta);
      rows.push([
        `frames while one ${says === 'zoom by the wheel' ? 'zooms' : 'pans'} over a million bars`,
        `median ${quantile(frames, 0.5)} ms`,
        `p95 ${quantile(frames, 0.95)} ms, ${says}; the screen gives one every 16.7 ms`,
      ]);
    }
    const scrubs = await page.evaluate(scrubTimes);
    rows.push([
      'a number turned until the figures are painted, `mean`',
      `median ${quantile(scrubs, 0.5)} ms`,
      `p95 ${quantile(scrubs, 0.95)} ms`,
    ]);
    const slow = await slowFrames(page);
    rows.push([
      'frames while a slow number is turned, `median` over 500 bars',
      `median ${quantile(slow, 0.5)} ms`,
      `p95 ${quantile(slow, 0.95)} ms, the longest ${quantile(slow, 1)} ms`,
    ]);
    const session = await page.createCDPSession();
    const heap = async () => {
      await session.send('HeapProfiler.collectGarbage');
      return (await session.send('Runtime.getHeapUsage')).usedSize / 1e6;
    };
    const before = await heap();
    for (let i = 0; i < 5; i++) await page.evaluate(framesWhile, 0);
    rows.push([
      'growth of memory over 500 zoom steps',
      `${((await heap()) - before).toFixed(1)} MB`,
      `of ${before.toFixed(0)} MB`,
    ]);
    const examined = await examinePageRows(page, origin);
    const compared = await comparePageRows(page, origin);
    const handed = await handoverPageRows(page, origin);
    const live = await livePageRows(page, origin);
    await browser.close();
    compared.push(...(await rollRows(origin)));
    return { ledger: rows, examined, compared, handed, live };
  } finally {
    server.kill('SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  }
}

async function untilReady(page, address) {
  const started = performance.now();
  await page.goto(address, { waitUntil: 'commit' }).catch(() => page.goto(address));
  await page.waitForFunction(() => document.querySelector('.lane canvas')?.width > 300, { timeout: 60_000 });
  return performance.now() - started;
}

async function millionBars(origin) {
  const random = standardRandom();
  const next = () => random.next().value;
  let cents = 10_000;
  const start = Date.parse('2024-01-01T00:00:00Z');
  const lines = ['time,open,high,low,close,volume'];
  for (let row = 0; row < BARS; row++) {
    const open = cents;
    cents = Math.max(100, cents + Math.round(next() * 8 - 4));
    const [high, low] = [Math.max(open, cents) + 2, Math.min(open, cents) - 2];
    const time = new Date(start + row * 60_000).toISOString();
    lines.push(`${time},${open / 100},${high / 100},${low / 100},${cents / 100},${1 + Math.floor(next() * 400)}`);
  }
  const sent = await fetch(`${origin}/api/tapes?name=MILLION&kind=bars&interval=1+minute`, {
    method: 'POST',
    headers: { 'content-type': 'text/csv' },
    body: lines.join('\n'),
  });
  if (sent.status !== 201) throw new Error(`the million bars were answered with ${sent.status}: ${await sent.text()}`);
  const lane = (id, base, weight) => ({
    id,
    base,
    weight,
    entries: ENTRIES.filter(([where]) => where === id).map(([, text], index) => ({
      id: `${id}${index}`,
      text,
      ink: index,
    })),
  });
  const body = {
    tape: 'MILLION',
    rule: '1 minute',
    lanes: [lane('price', 'price', 3), lane('volume', 'volume', 1), lane('wild', 'none', 1)],
    view: null,
  };
  const made = await fetch(`${origin}/api/ledgers`, {
    method: 'POST',
    body: JSON.stringify({ title: 'A million', body }),
    headers: { 'content-type': 'application/json' },
  });
  return (await made.json()).id;
}

/** In the page: times between frames while the wheel turns a step a frame. `across` pans, else it zooms in and out. */
function framesWhile(across) {
  return new Promise((done) => {
    const plot = document.querySelector('.canvas');
    const { left, top, width, height } = plot.getBoundingClientRect();
    const frames = [];
    let last = performance.now();
    let step = 0;
    const turn = (now) => {
      if (step > 0) frames.push(now - last);
      last = now;
      if (step++ === 100) return done(frames);
      const sign = step % 50 < 25 ? -1 : 1;
      plot.dispatchEvent(
        new WheelEvent('wheel', {
          deltaX: across ? sign * 40 : 0,
          deltaY: across ? 0 : sign * 120,
          clientX: left + width / 2,
          clientY: top + height / 2,
          bubbles: true,
          cancelable: true,
        }),
      );
      requestAnimationFrame(turn);
    };
    requestAnimationFrame(turn);
  });
}

/** In the page: from a key on a number of the second entry until its figures have changed and a frame is painted. */
async function scrubTimes() {
  const entry = document.querySelectorAll('.entry')[1];
  const number = entry.querySelector('[role="spinbutton"]');
  const figures = entry.querySelector('.figures');
  const times = [];
  for (let i = 0; i < 20; i++) {
    const before = figures.title;
    const started = performance.now();
    number.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
    while (figures.title === before && performance.now() - started < 5000) await new Promise(requestAnimationFrame);
    // the frame is painted as soon as its callbacks are through, and the next message comes after that
    await new Promise((painted) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = painted;
      port2.postMessage(undefined);
    });
    times.push(performance.now() - started);
  }
  return times;
}

/** Writes an entry that takes long, turns its number ten times a second, and gives the times between frames meanwhile. */
async function slowFrames(page) {
  const name = '::-p-aria(Entry rough)';
  await (await page.$$('input[aria-label="New entry"]'))[0].click();
  await page.keyboard.type('rough = median(close, 500 bars)');
  await page.keyboard.press('Enter');
  await page.waitForSelector(name, { timeout: 60_000 });
  const entry = await page.$(name);
  return entry.evaluate(async (node) => {
    const number = node.querySelector('[role="spinbutton"]');
    const frames = [];
    let last = performance.now();
    for (const until = last + 4000; last < until;) {
      if (Math.floor(last / 100) !== Math.floor((last - (frames.at(-1) ?? 100)) / 100))
        number.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
      await new Promise(requestAnimationFrame);
      const now = performance.now();
      frames.push(now - last);
      last = now;
    }
    return frames;
  });
}

const quantile = (values, p) => quantileOf(values, p).toFixed(1);
