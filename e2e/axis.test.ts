import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader.js';
import { origin } from './ownServer';

/* The axis that all lanes share, lines beyond the last bar, and work that takes long. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
  await reader.openLedger('TIDE');
  await reader.write('calm = mean(close, 20 bars)');
  await reader.find('::-p-aria(Entry calm)');
});
afterAll(() => reader.leave());

const moment = () => reader.page.$eval('.moment', (node) => node.textContent!);
const focusPlot = async () => (await reader.page.$$('.canvas'))[0].focus();
const press = (key: Parameters<Reader['page']['keyboard']['press']>[0]) => reader.page.keyboard.press(key);
const pointAt = async (share: number) => {
  const box = (await (await reader.page.$('.picture'))!.boundingBox())!;
  await reader.page.mouse.move(box.x + share * box.width, box.y + 40);
  await reader.find('.moment');
};

describe('true time', () => {
  it('is chosen at the foot, gives nights their room, and keeps what is in view', async () => {
    const dayTexts = () => reader.page.$$eval('.tick.main', (nodes) => nodes.map((node) => node.textContent));
    const before = await dayTexts();
    const inked = await reader.inkIn(1);
    await reader.page.select('select[aria-label="Time axis"]', 'time');
    await reader.page.waitForFunction(
      (ink) => {
        const canvas = document.querySelectorAll<HTMLCanvasElement>('.lane canvas')[1];
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return data.filter((_, at) => at % 4 === 3 && data[at] > 0).length < ink * 0.8;
      },
      {},
      inked,
    );
    expect((await dayTexts()).some((text) => before.includes(text))).toBe(true);
  });

  it('points at night to the bar before it', async () => {
    const times = new Set<string>();
    for (let share = 0.05; share < 0.95; share += 0.05) {
      await pointAt(share);
      times.add((await moment()).slice(-5));
    }
    for (const time of times) expect(time >= '08:30' && time < '16:30', time).toBe(true);
  });

  it('is a step that can be taken back, and is there after a reload', async () => {
    await reader.saved();
    await reader.page.reload();
    await reader.find('::-p-aria(Entry calm)');
    const axis = () => reader.page.$eval('select[aria-label="Time axis"]', (node) => (node as HTMLSelectElement).value);
    expect(await axis()).toBe('time');
    await reader.click('button', 'undo');
    await reader.page.waitForFunction(
      () => document.querySelector<HTMLSelectElement>('select[aria-label="Time axis"]')!.value === 'bars',
    );
  });
});

describe('a line that is drawn later', () => {
  it('runs on over days to come, by the calendar of the tape', async () => {
    await (await reader.find('::-p-aria(Entry calm)')).hover();
    await reader.click('button', 'More of calm');
    const field = await reader.find('input[aria-label="Rows that calm is drawn later"]');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('64');
    await press('Enter');
    await focusPlot();
    await press('End');
    await pointAt(0.98);
    // the last day of the demo is Friday 24 April 2026
    expect(await moment()).toMatch(/^(Mon 27|Tue 28) Apr 2026/);
    await expect.poll(() => reader.page.$eval('.base .figure', (node) => node.textContent)).toBe('–');
    const figure = await reader.page.$eval(
      '::-p-aria(Entry calm)',
      (node) => node.querySelector('.figures')!.textContent,
    );
    expect(figure).toMatch(/^\d/);
  });

  it('has a pattern of its own where one is chosen', async () => {
    const select = '::-p-aria(How calm is drawn) ::-p-xpath(.//label[starts-with(., "line")]//select)';
    await reader.page.select(select, '6');
    await reader.page.waitForFunction(
      () => document.querySelector('.entry line')?.getAttribute('stroke-dasharray') === '2 3',
    );
    await reader.page.select(select, '');
  });
});

describe('work that takes long', () => {
  it('shows how far it is, leaves the page free, and gives way to what is asked later', async () => {
    const start = Date.UTC(2026, 0, 5);
    const lines = Array.from(
      { length: 250_000 },
      (_, i) =>
        `${new Date(start + i * 1000).toISOString()},${(100 + Math.sin(i / 50) + ((i * 7919) % 13) / 50).toFixed(2)},1`,
    );
    const posted = await fetch(`${origin}/api/tapes?name=SECONDS`, {
      method: 'POST',
      body: `time,price,size\n${lines.join('\n')}\n`,
    });
    expect(posted.status).toBe(201);
    await reader.openLedger('SECONDS');
    await (await reader.find('.control .word')).click();
    await (await reader.control('textbox', 'Bar rule')).evaluate((node) => ((node as HTMLInputElement).value = ''));
    await reader.page.keyboard.type('1 second');
    await press('Enter');
    await reader.sees('250,000 bars');
    await reader.write('memory = hurst(logreturn(close), 512 bars, by: rs)');
    await reader.find('::-p-aria([role="progressbar"])');
    await pointAt(0.5);
    expect(await moment()).toMatch(/2026/);
    // a later wish: the first one is given up, and only the last number stays
    await reader.find('::-p-aria(Entry memory)');
    const number = (await reader.page.$$('.entry [role="spinbutton"]'))[0];
    await number.focus();
    for (let i = 0; i < 3; i++) await press('ArrowDown');
    await reader.page.waitForFunction(
      () =>
        !document.querySelector('[role="progressbar"]') &&
        /^0\.\d/.test(document.querySelector('.entry .figures')!.textContent!),
      { timeout: 60_000 },
    );
    await reader.sees('497');
    // what is in view is there at once, while all other rows are still worked on, and stays as it is when they are done
    const exactly = () => reader.page.$eval('.entry .figures', (node) => (node as HTMLElement).title);
    const before = await exactly();
    await number.focus();
    await press('ArrowDown');
    await reader.page.waitForFunction(
      (old) => document.querySelector<HTMLElement>('.entry .figures')!.title !== old,
      {},
      before,
    );
    const seen = await exactly();
    await reader.find('::-p-aria([role="progressbar"])');
    expect(await exactly()).toBe(seen);
    await reader.page.waitForFunction(() => !document.querySelector('[role="progressbar"]'), { timeout: 60_000 });
    const digits = (text: string) => Number(/-?\d+\.\d+/.exec(text)![0]);
    expect(digits(await exactly())).toBeCloseTo(digits(seen), 9);
    // two entries at once while it is turned: neither takes the place of the other
    await number.focus();
    await press('ArrowDown');
    await (await reader.page.$$('input[aria-label="New entry"]'))[0].click();
    await reader.page.keyboard.type('quick = mean(close, 20 bars)');
    await press('Enter');
    await reader.page.keyboard.type('slow = mean(close, 40 bars)');
    await press('Enter');
    for (const name of ['quick', 'slow'])
      await reader.page.waitForSelector(`::-p-aria(Entry ${name})`, { timeout: 60_000 });
    await reader.sees('487');
  }, 180_000);
});
