import { mkdtempSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect } from 'vitest';
import { fileOf, Reader } from './reader';
import { story } from './story';

/* The page on which an analyst spends the day: look, derive, tune, check by hand, hand out. */

const it = story();
let reader: Reader;
const downloads = mkdtempSync(join(tmpdir(), 'jaunty-out-'));

beforeAll(async () => {
  reader = await Reader.arrive();
  await reader.saveDownloads(downloads);
  await reader.openLedger('WOOL');
});
afterAll(() => reader.leave());

const press = (key: Parameters<Reader['page']['keyboard']['press']>[0]) => reader.page.keyboard.press(key);
const more = async (entry: string) => {
  await (await reader.find(`::-p-aria(Entry ${entry})`)).hover();
  await reader.click('button', `More of ${entry}`);
};
const names = () => reader.page.$$eval('.entry .name', (nodes) => nodes.map((node) => node.textContent));
const undoWith = async (key: 'z', shift = false) => {
  await reader.page.keyboard.down('Control');
  if (shift) await reader.page.keyboard.down('Shift');
  await press(key);
  if (shift) await reader.page.keyboard.up('Shift');
  await reader.page.keyboard.up('Control');
};

/** The file that is handed out next, once it is whole. */
async function handedOut(ending: string, act: () => Promise<void>): Promise<string> {
  await act();
  for (let tries = 0; tries < 100; tries++) {
    const found = readdirSync(downloads).find((name) => name.endsWith(ending));
    // it is there before it is written
    if (found && statSync(join(downloads, found)).size > 0) return join(downloads, found);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`no file with the ending ${ending} came`);
}

describe('writing entries', () => {
  it('offers what could follow, and takes it by Tab', async () => {
    await press('e');
    await reader.page.keyboard.type('soft = mea');
    await reader.find('::-p-aria([role="listbox"])');
    await press('Tab');
    await reader.page.keyboard.type('close, 20');
    await press('Tab');
    expect(await reader.page.$eval('.new input', (field) => (field as HTMLInputElement).value)).toBe(
      'soft = mean(close, 20 bars)',
    );
    await press('Enter');
    await reader.find('::-p-aria(Entry soft)');
  });

  it('draws several values of one entry, which others can use', async () => {
    await reader.write('hem = bands(close, 20 bars, 2)');
    await reader.find('::-p-aria(Entry hem)');
    await reader.write('room = hem.upper - hem.lower');
    await reader.find('::-p-aria(Entry room)');
    expect(await names()).toEqual(['soft', 'hem', 'room']);
  });

  it('reads other bars and other tapes', async () => {
    await reader.write('hourly = mean(close, 4 bars) on 1 hour');
    await reader.find('::-p-aria(Entry hourly)');
    await reader.write('together = correlation(return(close), return(LAMP.close), 60 bars)', 1);
    await reader.find('::-p-aria(Entry together)');
    await reader.write('peek = close on 1 hour forming');
    await reader.sees('looks ahead');
  });

  it('makes a fan of a number by one key', async () => {
    const number = (await reader.page.$$('[role="spinbutton"][aria-label="bars"]'))[0];
    await number.focus();
    await press('f');
    await reader.sees('mean(close, [10, 20, 40] bars)');
    await undoWith('z'); // not while a number has the focus: its keys are its own
    await reader.page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await undoWith('z');
    await reader.sees('mean(close, 20 bars)');
  });

  it('lets a number be typed, by a click on it or by its figures', async () => {
    const number = async () => (await reader.page.$$('[role="spinbutton"][aria-label="bars"]'))[0];
    await (await number()).click();
    await reader.page.keyboard.type('100');
    await press('Enter');
    await reader.sees('mean(close, 100 bars)');
    await (await number()).focus();
    await reader.page.keyboard.type('35');
    await press('Enter');
    await reader.sees('mean(close, 35 bars)');
    await (await number()).click();
    await reader.page.keyboard.type('7');
    await press('Escape');
    await reader.sees('mean(close, 35 bars)');
    await undoWith('z');
    await undoWith('z');
    await reader.sees('mean(close, 20 bars)');
  });
});

describe('changes', () => {
  it('are taken back and made again, also after a reload', async () => {
    await more('peek');
    await reader.click('button', 'Remove peek');
    await reader.page.waitForFunction(() => !document.body.innerText.includes('peek'));
    await reader.saved();
    await reader.page.reload();
    await reader.find('::-p-aria(Entry soft)');
    await reader.click('button', 'undo');
    await reader.find('::-p-aria(Entry peek)');
    await undoWith('z', true);
    await reader.page.waitForFunction(() => !document.body.innerText.includes('peek'));
  });

  it('of the drawing: shape, ink, later by some bars, a scale of its own, alone, a copy, another place', async () => {
    await more('soft');
    const before = await reader.inkIn(0);
    await reader.page.select(
      '::-p-aria(How soft is drawn) ::-p-xpath(.//label[starts-with(., "as")]//select)',
      'columns',
    );
    await reader.page.waitForFunction(
      (ink) => {
        const canvas = document.querySelector<HTMLCanvasElement>('.lane canvas')!;
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return data.filter((_, at) => at % 4 === 3 && data[at] > 0).length > ink * 1.1;
      },
      {},
      before,
    );
    await reader.click('button', 'Ink plum');
    await reader.find('::-p-aria(Hide soft, drawn in plum)');
    const later = await reader.control('spinbutton', 'Rows that soft is drawn later');
    await later.click({ count: 3 });
    await reader.page.keyboard.type('10');
    await press('Tab');
    await reader.click('button', 'show alone');
    await reader.find('::-p-aria(Show hem, drawn in green)');
    await reader.click('button', 'show alone');
    await reader.find('::-p-aria(Hide hem, drawn in green)');
    await reader.click('button', 'copy');
    await reader.find('::-p-aria(Entry soft2)');
    await reader.click('button', 'own lane');
    await reader.page.waitForFunction(() => document.querySelector('.lane:last-of-type .name')?.textContent === 'soft');
  });

  it('of a lane: its scale, its height, its place, folded', async () => {
    const figures = () =>
      reader.page.$$eval('.lane:first-of-type .axis span', (texts) => texts.map((t) => t.textContent));
    const lane = await reader.find('::-p-aria(Price lane)');
    await lane.hover();
    await reader.click('button', 'Settings of the price lane');
    await reader.find('[aria-label="Price lane"] .tools select');
    const fitted = await figures();
    await reader.page.select('[aria-label="Price lane"] .tools label:nth-of-type(2) select', 'percent');
    await reader.page.waitForFunction(() => document.querySelector('.axis span')?.textContent?.includes('%'));
    await reader.page.select('[aria-label="Price lane"] .tools label:nth-of-type(2) select', 'zero');
    await reader.page.waitForFunction(() =>
      [...document.querySelectorAll('.lane:first-of-type .axis span')].some((text) => Number(text.textContent) < 50),
    );
    await reader.page.select('[aria-label="Price lane"] .tools label:nth-of-type(2) select', 'fit');
    expect(await figures()).toEqual(fitted);
    await reader.page.select('[aria-label="Price lane"] .tools label:nth-of-type(1) select', 'line');
    const height = await reader.page.$eval('[aria-label="Price lane"]', (node) => node.clientHeight);
    await (await reader.page.$$('.resizer'))[0].focus();
    // with so many lanes it has all the height that there is
    for (let i = 0; i < 8; i++) await press('ArrowUp');
    expect(await reader.page.$eval('[aria-label="Price lane"]', (node) => node.clientHeight)).toBeLessThan(height);
    await reader.click('button', 'move down');
    expect(await reader.page.$$eval('.lane', (lanes) => lanes.map((one) => one.getAttribute('aria-label')))).toEqual([
      'Volume lane',
      'Price lane',
      'Lane 3',
    ]);
  });
});

describe('reading and checking', () => {
  it('measures between two bars', async () => {
    await (await reader.page.$$('.canvas'))[0].focus();
    await press('Home');
    for (let i = 0; i < 3; i++) await press('ArrowLeft');
    await press('m');
    for (let i = 0; i < 4; i++) await press('ArrowRight');
    await reader.sees('4 bars, 1 h,');
    await press('Escape');
    await reader.seesNot('4 bars, 1 h,');
  });

  it('pins a note, which stays', async () => {
    await press('n');
    const note = await reader.find('.note input');
    await note.type('the ferry came late');
    await press('Enter');
    await reader.saved();
    await reader.page.reload();
    const again = await reader.find('.note input');
    expect(await again.evaluate((field) => (field as HTMLInputElement).value)).toBe('the ferry came late');
  });

  const worked = async () => {
    await reader.find('.result td');
    const cells = await reader.page.$$eval('.result td', (nodes) => nodes.map((node) => node.textContent));
    expect(cells.length).toBe(2);
    expect(Number(cells[0]!.replace('−', '-'))).toBeCloseTo(Number(cells[1]!.replace('−', '-')), 9);
  };

  it.each([
    ['soft2', 'mean of close over 20 bars', 'The 20 rows'],
    ['together', 'correlation of return of close', 'sum of (x - mean x)(y - mean y)'],
  ])('shows the working of %s', async (name, phrase, row) => {
    await press('0');
    await more(name);
    await reader.click('button', `Working of ${name}`);
    await reader.sees(phrase);
    await reader.sees(row);
    await worked();
    await reader.sees('Both agree.');
    await reader.click('button', `More of ${name}`);
  });

  it('shows the recursion of an exponential average, and the line through a Hurst exponent', async () => {
    await reader.write('quick = ema(close, 12 bars)');
    await more('quick');
    await reader.click('button', 'Working of quick');
    await reader.sees('a x + (1 - a) times the average before');
    await worked();
    await reader.write('memory = hurst(logreturn(close), 128 bars)');
    await more('memory');
    await reader.click('button', 'Working of memory');
    await reader.sees('H, the slope');
    await worked();
    expect(await reader.page.$$eval('.right circle', (points) => points.length)).toBeGreaterThan(3);
  });

  it('shows the records of a bar', async () => {
    await reader.click('button', 'See the bar itself');
    await reader.sees('open, of the first record');
    await reader.page.waitForFunction(() => document.querySelectorAll('.right tbody tr').length > 10);
    const rows = await reader.page.$eval('.right table', (table) =>
      [...table.querySelectorAll('tbody tr')]
        .slice(0, 4)
        .map((line) => [...line.querySelectorAll('td')].map((cell) => cell.textContent)),
    );
    for (const [stored, plain] of rows) expect(plain).toBe(stored);
    await press('Escape');
  });

  it('lists the rows: ends, blanks, extremes, complete ones', async () => {
    await press('r');
    await reader.find('::-p-aria(Figures of the bars)');
    await reader.click('button', 'first');
    await reader.sees('Mon 2 Feb 2026 08:30');
    await reader.click('button', 'next extreme');
    await reader.find('tr.here');
    const first = () => reader.page.$eval('.foot tbody tr th', (cell) => cell.textContent);
    await reader.click('button', 'first');
    const blank = await first();
    await reader.page.click('.foot input[type="checkbox"]');
    await reader.page.waitForFunction(
      (before) => document.querySelector('.foot tbody tr th')?.textContent !== before,
      {},
      blank,
    );
    await reader.click('button', 'close');
  });
});

describe('handing out', () => {
  it('gives the figures and the picture as files', async () => {
    await press('x');
    const csv = await handedOut('.csv', () => reader.click('button', 'CSV'));
    const [head, line] = readFileSync(csv, 'utf8').split('\n');
    expect(head).toMatch(/^time,end,open,high,low,close,volume.*soft2,.*hem,hem.upper,hem.lower,/);
    expect(line).toMatch(/^2026-\d\d-\d\dT/);
    const parquet = await handedOut('.parquet', () => reader.click('button', 'Parquet'));
    expect(readFileSync(parquet).subarray(0, 4).toString()).toBe('PAR1');
    const lines = await handedOut('.ndjson', () => reader.click('button', 'lines of JSON'));
    expect(JSON.parse(readFileSync(lines, 'utf8').split('\n')[0])).toHaveProperty('soft2');
    const svg = await handedOut('.svg', () => reader.click('button', 'SVG'));
    const picture = readFileSync(svg, 'utf8');
    expect(picture).toMatch(/<svg[^]*hem<\/tspan> = bands\(close, 20 bars, 2\)[^]*Source: tape WOOL/);
    expect(picture, 'lines, not pixels').toMatch(
      /^(?![^]*<image)[^]*<path d="M[\d.,L]{200,}" fill="none" stroke="#\w{6}"/,
    );
    const png = await handedOut('.png', () => reader.click('button', 'PNG'));
    expect(readFileSync(png).subarray(1, 4).toString()).toBe('PNG');
    await press('Escape');
  });

  it('gives the whole ledger as a file, and takes one in', async () => {
    await press('l');
    const file = await handedOut('.ledger.json', () => reader.click('button', 'save it as a file'));
    const whole = JSON.parse(readFileSync(file, 'utf8')) as { title: string; format: string };
    expect(whole.format).toBe('jaunty-ledger/1');
    const field = (await reader.page.$('input[aria-label="Ledger file"]'))! as unknown as {
      uploadFile: (path: string) => Promise<void>;
    };
    await field.uploadFile(fileOf('broken.json', '{"format": "jaunty-ledger/1", "title": "x"}'));
    await reader.sees('is no ledger of this kind: body');
    await field.uploadFile(fileOf('other.json', JSON.stringify({ ...whole, title: 'Taken in' })));
    await reader.page.waitForFunction(() => document.title.startsWith('Taken in'));
    await reader.find('::-p-aria(Entry soft2)');
  });

  it('holds the view in the address', async () => {
    await (await reader.page.$$('.canvas'))[0].focus();
    const was = reader.page.url();
    await press('+');
    await reader.page.waitForFunction((old) => location.href !== old && location.search.includes('from='), {}, was);
    const address = reader.page.url();
    const stretch = '[aria-label="Stretch in view"]';
    const before = await reader.page.$eval(stretch, (slider) => Number(slider.getAttribute('aria-valuenow')));
    await press('0');
    await reader.saved();
    await reader.page.goto(address);
    await reader.find('::-p-aria(Entry soft2)');
    // the address names whole bars, the view may begin within one
    await reader.page.waitForFunction(
      (slider, first) => Math.abs(Number(document.querySelector(slider)?.getAttribute('aria-valuenow')) - first) <= 1,
      {},
      stretch,
      before,
    );
    expect(before).toBeGreaterThan(1); // and not where a ledger begins
  });
});

describe('for everyone', () => {
  const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core'), 'utf8');
  const findings = async () => {
    await reader.page.evaluate(axe);
    return reader.page.evaluate(async () => {
      const { violations } = await (
        window as unknown as {
          axe: { run: () => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }> };
        }
      ).axe.run();
      return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`);
    });
  };

  it('has a list of keys', async () => {
    await press('?');
    await reader.find('::-p-aria([role="dialog"])');
    await reader.sees('undo the last change');
    await press('Escape');
  });

  it.each(['light', 'dark'] as const)(
    'is free of what axe finds, on %s paper, with everything open',
    async (scheme) => {
      await reader.page.emulateMediaFeatures([{ name: 'prefers-color-scheme', value: scheme }]);
      await reader.page.reload();
      await reader.find('::-p-aria(Entry soft2)');
      await press('r');
      await press('w');
      await reader.find('::-p-aria(Figures of the bars)');
      await reader.find('::-p-aria(Working of the bar)');
      expect(await findings()).toEqual([]);
    },
  );

  it.each([360, 390, 2560])('fits %d pixels without a line that is cut off', async (width) => {
    await reader.page.setViewport({ width, height: 844 });
    await reader.page.reload();
    await reader.find('::-p-aria(Entry soft2)');
    const overflow = await reader.page.evaluate(
      () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
    );
    expect(overflow).toBeLessThanOrEqual(0);
  });
});

describe('what was changed last', () => {
  it('is there again where the page was left at once', async () => {
    await reader.openLedger('TIDE_days');
    await reader.write('kept = mean(close, 9 bars)');
    await reader.find('::-p-aria(Entry kept)');
    await reader.page.goto('about:blank');
    await reader.page.goto(`${reader.origin}/ledger?tape=TIDE_days`);
    await reader.find('::-p-aria(Entry kept)');
    await reader.saved();
  });

  it('stays in the lane that it is typed in, on its own scale where that differs, until it is moved', async () => {
    const lanesOf = () =>
      reader.page.$$eval('.lane', (lanes) =>
        lanes.map((lane) => [...lane.querySelectorAll('.entry .name')].map((name) => name.textContent)),
      );
    await reader.write('usual = mean(volume, 20 bars)', 1);
    await reader.find('::-p-aria(Entry usual)');
    await reader.write('move = change(close)');
    await reader.find('::-p-aria(Entry move)');
    expect(await lanesOf()).toEqual([['kept', 'move'], ['usual']]);
    await reader.click('button', 'move to a new lane: move');
    await reader.page.waitForFunction(() => document.querySelectorAll('.lane').length === 3);
    expect(await lanesOf()).toEqual([['kept'], ['usual'], ['move']]);
    await reader.writeInNewLane('back = lag(close, 1)');
    await reader.find('::-p-aria(Entry back)');
    expect(await lanesOf()).toEqual([['kept'], ['usual'], ['move'], ['back']]);
    await reader.click('button', 'undo');
    await reader.page.waitForFunction(() => document.querySelectorAll('.lane').length === 3);
    const figures = await reader.page.$$eval('.lane:last-of-type .axis span', (texts) =>
      texts.map((t) => t.textContent),
    );
    expect(new Set(figures).size).toBeGreaterThan(1);
  });
});
