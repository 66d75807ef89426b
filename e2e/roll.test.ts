import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* The roll: one ledger's entries on many tapes. */

let reader: Reader;
const TAPES = 500;
const ROWS = 90;
const nameOf = (tape: number) => `ROLLED${tape}`;

/** Closes of a tape: each rises by its own step, and turns about that. */
const closeOf = (tape: number, day: number) =>
  50 + tape * 0.1 + day * 0.01 * ((tape % 7) - 3) + Math.sin(day * (1 + (tape % 5)));

async function enter(from: number, to: number): Promise<void> {
  const lines = ['date,name,close'];
  for (let tape = from; tape < to; tape++)
    for (let day = 0; day < ROWS; day++) {
      const date = new Date(Date.UTC(2025, 0, 6 + day)).toISOString().slice(0, 10);
      lines.push(`${date},${nameOf(tape)},${closeOf(tape, day).toFixed(4)}`);
    }
  const answer = await fetch(`${reader.origin}/api/tapes?name=ROLLS&kind=series`, {
    method: 'POST',
    body: lines.join('\n'),
  });
  expect(answer.status).toBe(201);
}

beforeAll(async () => {
  reader = await Reader.arrive();
  for (let from = 0; from < TAPES; from += 170) await enter(from, Math.min(TAPES, from + 170));
}, 120_000);
afterAll(() => reader.leave());

const tapes = Array.from({ length: TAPES }, (_, tape) => nameOf(tape));
const roll = async (body: object, accept = 'application/json') => {
  const answer = await fetch(`${reader.origin}/api/rolls`, {
    method: 'POST',
    body: JSON.stringify(body),
    headers: { accept },
  });
  return { status: answer.status, text: await answer.text() };
};
const at = (test: () => boolean) => reader.page.waitForFunction(test, { timeout: 30_000 });
const rowsShown = () =>
  reader.page.$$eval('[aria-label="The roll"] tbody tr:not([aria-hidden])', (rows) =>
    rows.map((row) => row.querySelector('th')!.textContent!.trim()),
  );

describe('a roll over 500 tapes', () => {
  it('gives the last values of each, and says of which version of its tape they are', async () => {
    const entries = ['level = mean(close, 10 bars)', 'move = change(close, 5)'];
    const { text } = await roll({ tapes, bars: '1 day', entries, back: 3 });
    const { rows } = JSON.parse(text);
    expect(rows.map(({ tape }: { tape: string }) => tape)).toEqual(tapes);
    const { version, values } = rows[123];
    expect(version).toBe(1);
    const closes = Array.from({ length: ROWS }, (_, day) => Number(closeOf(123, day).toFixed(4)));
    const mean = (end: number) => closes.slice(end - 10, end).reduce((sum, value) => sum + value, 0) / 10;
    expect(values.map(({ name }: { name: string }) => name)).toEqual(['level', 'move']);
    expect(values[0].last).toBeCloseTo(mean(ROWS), 9);
    expect(values[0].before).toBeCloseTo(mean(ROWS - 3), 9);
    expect(values[1].last).toBeCloseTo(closes[ROWS - 1] - closes[ROWS - 6], 9);
    expect(values[0].spark).toHaveLength(60);
  });

  it('comes row by row, and ends with a line that says so', async () => {
    const { text } = await roll({ tapes, bars: '1 day', entries: ['m = close'] }, 'application/x-ndjson');
    const lines = text
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line));
    expect(lines.length).toBeGreaterThan(5);
    expect(lines[0].rows.length).toBeLessThanOrEqual(8); // the first parts are small, so that one does not wait for them
    expect(lines.at(-1)).toEqual({ done: true });
    const shares = lines.slice(0, -1).map(({ share }) => share);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect(shares.at(-1)).toBe(1);
    expect(new Set(lines.flatMap(({ rows = [] }) => rows.map(({ tape }: { tape: string }) => tape))).size).toBe(TAPES);
  });

  it('is sorted, filtered in the notation, and drawn as little charts in the browser', async () => {
    const address = new URLSearchParams([
      ...tapes.map((tape) => ['tape', tape]),
      ...[
        ['bars', '1 day'],
        ['entry', 'level = mean(close, 10 bars)'],
        ['entry', 'up = slope(close, 40 bars)'],
      ],
    ]);
    await reader.open(`/roll?${address}`);
    await at(() => /500 tapes\./.test(document.body.innerText));
    expect((await rowsShown())[0]).toBe('ROLLED0');
    await (await reader.find('::-p-xpath(//th//button[starts-with(normalize-space(.), "level")])')).click();
    const level = (tape: number) =>
      Array.from({ length: 10 }, (_, back) => closeOf(tape, ROWS - 1 - back)).reduce((sum, value) => sum + value, 0);
    const highest = tapes.reduce((best, _, tape) => (level(tape) > level(best) ? tape : best), 0);
    await reader.page.waitForFunction(
      (name) => document.querySelector('[aria-label="The roll"] tbody th')?.textContent?.trim() === name,
      {},
      nameOf(highest),
    );
    await (await reader.control('textbox', 'Condition')).type('level < 60 and up > 0');
    await reader.page.keyboard.press('Enter');
    await at(() => /\d+ of 500 tapes\./.test(document.body.innerText));
    const shown = await rowsShown();
    expect(shown.length).toBeGreaterThan(3);
    for (const name of shown) expect(Number(name.slice(6))).toBeLessThan(100);
    await reader.page.select('.filter select', 'level');
    await at(() => document.querySelectorAll('svg[aria-label^="level of ROLLED"]').length > 3);
    await reader.sees('one scale for all');
  });

  it('is stopped, keeps what has come, and goes on when it is asked to', async () => {
    const address = new URLSearchParams([
      ...tapes.map((tape) => ['tape', tape]),
      ...[
        ['bars', '1 day'],
        ['entry', 'p = projection(close, "arima(3, 1, 3)", 5)'],
      ],
    ]);
    await reader.open(`/roll?${address}`);
    await at(() => /^[1-9]\d* of 500 tapes…/m.test(document.body.innerText));
    await reader.click('button', 'Stop');
    await at(() => /Stopped: \d+ of 500 tapes are here\./.test(document.body.innerText));
    const come = (await rowsShown()).length;
    expect(come).toBeGreaterThan(0);
    await reader.click('button', 'Go on');
    await at(() => /\d+ of 500 tapes…/.test(document.body.innerText));
    await reader.click('button', 'Stop');
  });
});

describe('what cannot be rolled', () => {
  it('is folded into a line under the table with its reason, and the others stand', async () => {
    await reader.open('/roll?tape=KELP&tape=KELP_days&bars=15+minutes&entry=m+%3D+mean(close,+5+bars)');
    await reader.sees('1 tape has no such bars or columns: KELP_days');
    await (await reader.find('.left-out summary')).click();
    await reader.sees('no finer than the records');
    await (await reader.control('textbox', 'Condition')).type('n > 1');
    await reader.page.keyboard.press('Enter');
    await reader.sees('No column or entry is called n');
  });

  it.each([
    [
      'a tape that is not there',
      { tapes: ['NOPE'], bars: '1 day', entries: ['m = close'] },
      404,
      'No tape is called NOPE',
    ],
    ['no entry', { bars: '1 day', entries: [] }, 400, ''],
    ['a hostile name', { tapes: ['__proto__'], bars: '1 day', entries: ['m = close'] }, 400, ''],
    ['too many entries', { bars: '1 day', entries: Array.from({ length: 21 }, (_, at) => `e${at} = close`) }, 400, ''],
  ])('%s is refused', async (_, body, status, says) => {
    const answer = await roll(body);
    expect([answer.status, answer.text]).toEqual([status, expect.stringContaining(says)]);
  });
});
