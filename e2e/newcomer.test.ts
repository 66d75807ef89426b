import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader.js';
import { serve } from './servedApp.js';

/* Someone who has a file and has never seen the book: nothing is looked up, each step is offered by the page itself. */

let folder: string;
let server: Awaited<ReturnType<typeof serve>>;
let reader: Reader;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'jaunty-newcomer-'));
  server = await serve(folder, { JAUNTY_DEMO: 'off' });
  reader = await Reader.arrive();
});
afterAll(async () => {
  await reader.leave();
  server.process.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

async function go(path: string): Promise<void> {
  await reader.page.goto(server.origin + path, { waitUntil: 'load' });
  await reader.page.waitForSelector('html[data-paper]'); // set once the page listens
}

/** Two weeks of trades, ten an hour, whose price swings slowly. */
function trades(): string {
  const lines: string[] = [];
  for (let day = 0; day < 14; day++)
    for (let i = 0; i < 80; i++) {
      const at = new Date(Date.UTC(2026, 1, 2 + day, 8, 30 + i * 6));
      if (at.getUTCDay() % 6 === 0) continue;
      lines.push(`${at.toISOString()},${(100 + 5 * Math.sin((day * 80 + i) / 90)).toFixed(2)},${1 + (i % 9)}`);
    }
  return `when,price,lots\n${lines.join('\n')}\n`;
}

describe('an empty book', () => {
  it('says what to do first', async () => {
    await go('/');
    await reader.sees('choose files');
    await reader.sees('drop some anywhere on this page');
  });

  it('says so where there is no such page, no such ledger and no such tape', async () => {
    for (const [path, says] of [
      ['/nowhere', 'There is no such page.'],
      ['/ledger/99', 'There is no such ledger.'],
      ['/records/NOBODY', 'No tape is called NOBODY.'],
    ]) {
      await go(path);
      await reader.sees(says);
    }
  });
});

describe('from a file to a picture', () => {
  it('the file is dropped, shown as it stands, and entered', async () => {
    await go('/records');
    await reader.drop('lamp oil.csv', trades());
    await reader.sees('2026-02-02T08:30:00.000Z');
    await reader.click('button', 'Import');
    await reader.sees('LAMP_OIL was imported');
    await reader.click('link', 'open its ledger');
    await reader.find('::-p-aria(Price lane)');
  });

  it('bars of an hour are chosen in the sentence', async () => {
    await (await reader.find('.control .word')).click();
    await reader.click('button', '1 hour');
    await reader.sees('1-hour');
  });

  it('two averages are written, and completed on the way', async () => {
    await reader.page.keyboard.press('e');
    await reader.page.keyboard.type('mea');
    await reader.find('::-p-aria([role="listbox"])');
    await reader.page.keyboard.press('Tab');
    await reader.page.keyboard.type('close, 8');
    await reader.page.keyboard.press('Tab');
    await reader.page.keyboard.press('Enter');
    await reader.find('::-p-aria(Entry my_mean)');
    await reader.write('ema(close, 20 bars)');
    await reader.find('::-p-aria(Entry my_ema)');
    expect((await reader.page.$$('.lane')).length).toBe(2);
  });

  it('a set of volatilities comes with a lane of its own', async () => {
    await reader.click('button', 'sets');
    await reader.click('button', 'Volatility');
    await reader.find('::-p-aria(Entry by_range)');
    expect((await reader.page.$$('.lane')).length).toBeGreaterThan(2);
  });

  it('a value is pinned and opened: its rows, and the same recomputed directly', async () => {
    const [canvas] = await reader.page.$$('.canvas');
    await canvas.click();
    await (await reader.find('::-p-aria(Entry my_mean)')).hover();
    await reader.click('button', 'More of my_mean');
    await reader.click('button', 'Working of my_mean');
    await reader.sees('mean of close over 8 bars');
    expect((await reader.page.$$('.right tbody tr')).length).toBeGreaterThanOrEqual(8);
    await reader.page.keyboard.press('Escape');
  });

  it('the picture is handed out', async () => {
    await reader.click('button', 'export');
    await reader.control('button', 'SVG');
    await reader.control('button', 'CSV');
    expect(reader.errors).toEqual([]);
  });
});

describe('three records', () => {
  it('are a ledger too', async () => {
    await go('/records');
    await reader.drop(
      'few.csv',
      'time,price\n2026-02-02T09:00Z,84.2\n2026-02-02T10:00Z,84.3\n2026-02-02T11:00Z,84.1\n',
    );
    await reader.click('button', 'Import');
    await reader.sees('FEW was imported');
    await reader.click('link', 'open its ledger');
    await reader.sees('3 bars');
    await reader.write('much = mean(close, 20 bars)');
    await reader.find('::-p-aria(Entry much)');
    expect(await reader.inkIn(0)).toBeGreaterThan(10);
  });
});

describe('when the server is gone', () => {
  it('the page says so, keeps what was written, and saves it once the server is back', async () => {
    server.process.kill('SIGKILL');
    await reader.write('late = lag(close)');
    await reader.sees('not saved');
    await reader.find('::-p-aria(Entry late)');
    const { port } = new URL(server.origin);
    server = await serve(folder, { JAUNTY_DEMO: 'off', PORT: port });
    await reader.write('later = lag(close, 2)');
    await reader.saved();
    await reader.page.reload();
    await reader.find('::-p-aria(Entry late)');
    await reader.find('::-p-aria(Entry later)');
  });
});
