import { autocorrelation, examine } from '../core/dist/index.js';
import { unitRoot } from '../core/dist/examine/unitRoot.js';
import { bestOf, standardRandom } from './timing.mjs';

const MILLION = 1_000_000;
const LAGS = 400;

const seconds = (milliseconds) => `${(milliseconds / 1000).toFixed(2)} s`;

/** Each lag by a loop of its own, as one would write it. */
function lagByLag(x, lags) {
  const mean = x.reduce((sum, value) => sum + value, 0) / x.length;
  const d = x.map((value) => value - mean);
  return Float64Array.from({ length: lags + 1 }, (_, k) => {
    let sum = 0;
    for (let t = 0; t + k < d.length; t++) sum += d[t] * d[t + k];
    return sum;
  });
}

/** What is worked out of one column, without a page. */
export function examineRows() {
  const random = standardRandom();
  let level = 100;
  const walk = Float64Array.from({ length: MILLION }, () => (level += random.next().value - 0.5));
  const acf = bestOf(3, () => autocorrelation(walk, LAGS));
  const plain = bestOf(1, () => lagByLag(walk, LAGS));
  const short = walk.subarray(0, 10_000);
  const days = walk.subarray(0, 2000);
  const choices = { treatments: [], lags: 40 };
  return [
    [
      `acf and pacf to ${LAGS} lags of a million values`,
      seconds(acf),
      `lag by lag ${seconds(plain)}, ${(plain / acf).toFixed(1)} times as long; asked 0.5 s`,
    ],
    ['unit-root test with its lags chosen, 10,000 values', seconds(bestOf(3, () => unitRoot(short))), 'asked 0.3 s'],
    ['the same of a million values', seconds(bestOf(1, () => unitRoot(walk))), 'asked 10 s'],
    [
      'all of an examination of 2,000 values, without copies',
      seconds(bestOf(5, () => examine(days, { ...choices, shuffles: 0 }))),
      `with 200 shuffled copies ${seconds(bestOf(1, () => examine(days, choices)))}`,
    ],
  ];
}

/** The page of Examine, in a browser at the demo. */
export async function examinePageRows(page, origin) {
  await page.goto(`${origin}/examine?tape=KELP_days&bars=1+day&taken=change+2`);
  await page.waitForFunction(() => document.querySelector('.verdicts h2')?.textContent === 'Verdicts');
  const taken = [];
  for (let run = 0; run < 15; run++) {
    taken.push(await page.evaluate(verdictsPainted));
    await page.waitForFunction(() => document.querySelector('.verdicts h2')?.textContent === 'Verdicts');
  }
  taken.sort((a, b) => a - b);
  const session = await page.createCDPSession();
  const heap = async () => {
    await session.send('HeapProfiler.collectGarbage');
    return (await session.send('Runtime.getHeapUsage')).usedSize / 1e6;
  };
  await page.evaluate(scrubLags, 100);
  const before = await heap();
  await page.evaluate(scrubLags, 500);
  const grown = (await heap()) - before;
  return [
    [
      'another change taken of 2,171 daily values, until all its tests are painted',
      `median ${taken[taken.length >> 1].toFixed(0)} ms`,
      `p95 ${taken[Math.floor(taken.length * 0.95)].toFixed(0)} ms; asked 150 ms`,
    ],
    ['growth of memory over 500 turns of the lags', `${grown.toFixed(1)} MB`, `of ${before.toFixed(0)} MB`],
  ];
}

/** In the page: turns the rows of the change by one, and waits until other figures stand in the verdicts. */
function verdictsPainted() {
  return new Promise((done) => {
    const figures = () => [...document.querySelectorAll('.verdicts .figures')].map((line) => line.textContent).join();
    const [was, started] = [figures(), performance.now()];
    const seen = new MutationObserver(() => {
      if (figures() === was) return;
      seen.disconnect();
      requestAnimationFrame(() => done(performance.now() - started));
    });
    seen.observe(document.querySelector('.verdicts'), { subtree: true, childList: true, characterData: true });
    const number = document.querySelector('[aria-label="Rows of change over"]');
    number.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true, cancelable: true }));
  });
}

/** In the page: turns the lags up and down, a turn every two frames. */
async function scrubLags(turns) {
  for (let turn = 0; turn < turns; turn++) {
    const number = document.querySelector('[aria-label="Most lags"]');
    const key = turn % 20 < 10 ? 'ArrowUp' : 'ArrowDown';
    number.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await new Promise((next) => requestAnimationFrame(() => requestAnimationFrame(next)));
  }
}
