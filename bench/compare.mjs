import { correlationsOf, likenessOrder, simpleReturn } from '../core/dist/index.js';
import { bestOf, quantile, standardRandom } from './timing.mjs';

const MEMBERS = 500;
const RETURNS = 2000;
const TAPES = 500;
const DAYS = 2000;
/** Tapes of one file. */
const TOGETHER = 170;

const seconds = (milliseconds) => `${(milliseconds / 1000).toFixed(2)} s`;

/** All pairs by plain loops, one pair after the other. */
function plainPairs(columns) {
  let sum = 0;
  for (let i = 0; i < columns.length; i++)
    for (let j = i; j < columns.length; j++) {
      const [a, b] = [columns[i], columns[j]];
      let products = 0;
      for (let row = 0; row < a.length; row++) products += a[row] * b[row];
      sum += products;
    }
  return sum;
}

/** What is worked out of many columns, without a page. */
export function compareRows() {
  const random = standardRandom();
  const walks = Array.from({ length: MEMBERS }, () => {
    let price = 100;
    return Float64Array.from({ length: RETURNS + 1 }, () => (price *= 1 + 0.01 * (random.next().value - 0.5)));
  });
  const correlationMatrix = (members) => correlationsOf(members.map((member) => simpleReturn(member, { rows: 1 })));
  const matrix = correlationMatrix(walks);
  const took = bestOf(3, () => correlationMatrix(walks));
  const plain = bestOf(1, () => plainPairs(walks));
  const gaps = walks.map((walk, at) => walk.map((value, row) => (row === (at * 37) % RETURNS ? NaN : value)));
  return [
    [
      `correlations of all pairs of ${MEMBERS} columns over ${RETURNS.toLocaleString('en')} returns`,
      seconds(took),
      `the products alone by plain loops ${seconds(plain)}; asked 1.5 s`,
    ],
    ['the same where every column has a gap', seconds(bestOf(1, () => correlationMatrix(gaps))), ''],
    [`their order by likeness`, seconds(bestOf(1, () => likenessOrder(matrix))), ''],
  ];
}

/** A roll over many tapes, on all threads and part by part on one. */
export async function rollRows(origin) {
  const random = standardRandom(7);
  const days = Array.from({ length: DAYS }, (_, day) =>
    new Date(Date.UTC(2018, 0, 1 + day)).toISOString().slice(0, 10),
  );
  for (let first = 0; first < TAPES; first += TOGETHER) {
    const lines = ['date,name,open,high,low,close,volume'];
    for (let tape = first; tape < Math.min(TAPES, first + TOGETHER); tape++) {
      let price = 50 + tape;
      for (const day of days) {
        const open = price;
        price *= 1 + 0.03 * (random.next().value - 0.5);
        const [high, low] = [Math.max(open, price) * 1.002, Math.min(open, price) * 0.998];
        lines.push(`${day},R${tape},${open.toFixed(2)},${high.toFixed(2)},${low.toFixed(2)},${price.toFixed(2)},1000`);
      }
    }
    const sent = await fetch(`${origin}/api/tapes?name=ROLLED&kind=bars&interval=1+day`, {
      method: 'POST',
      body: lines.join('\n'),
    });
    if (sent.status !== 201) throw new Error(`the tapes were answered with ${sent.status}: ${await sent.text()}`);
  }
  const tapes = Array.from({ length: TAPES }, (_, tape) => `R${tape}`);
  const entriesOf = (rows) => [
    `smooth = mean(close, ${rows} bars)`,
    `wild = stdev(logreturn(close), ${rows} bars)`,
    `steep = slope(close, ${rows} bars)`,
    `memory = hurst(close, ${200 + rows} bars)`,
    `quick = ema(close, ${rows} bars)`,
    `move = return(close, ${rows})`,
  ];
  const roll = async (some, rows) => {
    const body = JSON.stringify({ tapes: some, bars: '1 day', entries: entriesOf(rows) });
    const answer = await fetch(`${origin}/api/rolls`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json' },
    });
    if (!answer.ok) throw new Error(await answer.text());
    await answer.text();
  };
  const takes = async (work) => {
    const started = performance.now();
    await work();
    return performance.now() - started;
  };
  // other numbers each time, since answers are kept
  const cold = await takes(() => roll(tapes, 20));
  let [both, one] = [Infinity, Infinity];
  for (let run = 0; run < 3; run++) {
    both = Math.min(both, await takes(() => roll(tapes, 21 + run)));
    const parts = async () => {
      for (let at = 0; at < TAPES; at += 12) await roll(tapes.slice(at, at + 12), 31 + run);
    };
    one = Math.min(one, await takes(parts));
  }
  return [
    [
      `a roll of 6 entries over ${TAPES} tapes of ${DAYS.toLocaleString('en')} days`,
      seconds(both),
      `part by part on one thread ${seconds(one)}, ${(one / both).toFixed(2)} times as long (asked 1.7); the first of a new server ${seconds(cold)}; asked 5 s`,
    ],
  ];
}

/** Twelve lines of 100,000 bars in a browser: frames while one pans, and a window that is turned. */
export async function comparePageRows(page, origin) {
  const members = Array.from({ length: 12 }, (_, at) => `MILLION: close * ${at + 1} + open`);
  const address = new URLSearchParams([
    ...members.map((member) => ['member', member]),
    ...[
      ['bars', '1 minute'],
      ['from', '2024-01-01T00:00:00Z'],
      ['to', '2024-03-10T10:40:00Z'],
    ],
  ]);
  await page.goto(`${origin}/compare?${address}`);
  await page.waitForSelector('[aria-label="Lines"] canvas', { timeout: 30_000 });
  await page.evaluate(zoomIn);
  const frames = await page.evaluate(framesWhilePanned);
  const turned = await page.evaluate(turnTimes);
  return [
    [
      'frames while one pans 12 lines of 100,000 bars',
      `median ${quantile(frames, 0.5).toFixed(1)} ms`,
      `p95 ${quantile(frames, 0.95).toFixed(1)} ms, half of the bars in view; the screen gives one every 16.7 ms`,
    ],
    [
      'a window turned until the rolling correlation is painted',
      `median ${quantile(turned, 0.5).toFixed(1)} ms`,
      `p95 ${quantile(turned, 0.95).toFixed(1)} ms; asked 50 ms`,
    ],
  ];
}

/* These three run in the page. */

function zoomIn() {
  const plot = document.querySelector('[aria-label="Lines"] .rows-plot');
  const { left, top, width } = plot.getBoundingClientRect();
  for (let step = 0; step < 6; step++)
    plot.dispatchEvent(
      new WheelEvent('wheel', {
        deltaY: -60,
        ctrlKey: true,
        clientX: left + width / 2,
        clientY: top + 60,
        bubbles: true,
        cancelable: true,
      }),
    );
}

async function framesWhilePanned() {
  const plot = document.querySelector('[aria-label="Lines"] .rows-plot');
  plot.focus();
  const frames = [];
  let last = await new Promise(requestAnimationFrame);
  for (let step = 0; step < 120; step++) {
    plot.dispatchEvent(
      new KeyboardEvent('keydown', {
        key: step % 40 < 20 ? 'ArrowLeft' : 'ArrowRight',
        shiftKey: true,
        bubbles: true,
        cancelable: true,
      }),
    );
    const now = await new Promise(requestAnimationFrame);
    frames.push(now - last);
    last = now;
  }
  return frames;
}

async function turnTimes() {
  const line = () => {
    const canvas = document.querySelector('[aria-label="Correlation of the pair"] canvas');
    const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
    let sum = 7;
    for (let at = 0; at < data.length; at += 61) sum = (sum * 31 + data[at]) | 0;
    return sum;
  };
  const turn = document.querySelector('[aria-label="Rows of a correlation"]');
  turn.focus();
  const times = [];
  for (let step = 0; step < 20; step++) {
    const [before, started] = [line(), performance.now()];
    turn.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
    while (line() === before && performance.now() - started < 3000) await new Promise(requestAnimationFrame);
    times.push(performance.now() - started);
  }
  return times;
}
