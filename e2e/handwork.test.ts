import { afterAll, beforeAll, describe, expect } from 'vitest';
import { Reader } from './reader';
import { story } from './story';

/* What the hand does on a ledger: it turns, drags, folds, sorts, keeps, and carries over. */

const it = story();
let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
  await reader.page
    .browserContext()
    .overridePermissions(reader.origin, ['clipboard-read', 'clipboard-write', 'clipboard-sanitized-write']);
  await reader.openLedger('AMBR');
  for (const formula of [
    'soft = mean(close, 20 bars)',
    'slow = mean(close, 60 bars)',
    'hem = bands(close, 20 bars, 2)',
  ])
    await reader.write(formula);
  await reader.writeInNewLane('wild = stdev(return(close), 20 bars)');
  await reader.find('::-p-aria(Entry wild)');
});
afterAll(() => reader.leave());

const press = (key: Parameters<Reader['page']['keyboard']['press']>[0]) => reader.page.keyboard.press(key);
const namesIn = (lane: string) =>
  reader.page.$$eval(`[aria-label="${lane}"] .entry .name`, (nodes) => nodes.map((node) => node.textContent));
const formulaOf = (entry: string) =>
  reader.page.$eval(`[aria-label="Entry ${entry}"] .formula`, (node) => node.textContent!.trim());
const exactly = (entry: string) =>
  reader.page.$eval(`[aria-label="Entry ${entry}"] .figures`, (node) => node.getAttribute('title')!);
const axisOf = (lane: string) =>
  reader.page.$$eval(`[aria-label="${lane}"] .axis span`, (texts) => texts.map((text) => text.textContent!));
const more = async (entry: string) => {
  await (await reader.find(`::-p-aria(Entry ${entry})`)).hover();
  await reader.click('button', `More of ${entry}`);
};
/** Opens the tools of a lane, does something with them, and closes them. */
const withTools = async (lane: string, act: () => Promise<void>) => {
  const tools = `Settings of the ${lane.toLowerCase()}`;
  await (await reader.find(`::-p-aria(${lane})`)).hover();
  await reader.click('button', tools);
  await reader.find(`[aria-label="${lane}"] .tools select`);
  await act();
  await (await reader.find(`::-p-aria(${lane})`)).hover();
  await reader.click('button', tools);
};
const choose = (lane: string, label: string, value: string) =>
  reader.page.select(
    `::-p-xpath(//*[@aria-label="${lane}"]//label[starts-with(normalize-space(), "${label}")]//select)`,
    value,
  );
const fill = async (lane: string, label: string, value: string) => {
  const field = await reader.find(
    `::-p-xpath(//*[@aria-label="${lane}"]//label[starts-with(normalize-space(), "${label}")]/input)`,
  );
  await field.click({ count: 3 });
  await reader.page.keyboard.type(value);
  await press('Tab');
};

describe('a number of a formula', () => {
  const turn = async (entry: string, key: 'ArrowUp' | 'ArrowDown', held?: 'Shift' | 'Alt') => {
    await (await reader.find(`::-p-aria(Entry ${entry}) ::-p-aria([name="bars"][role="spinbutton"])`)).focus();
    if (held) await reader.page.keyboard.down(held);
    await press(key);
    if (held) await reader.page.keyboard.up(held);
  };

  it('goes by one, by ten with Shift, and never below its least', async () => {
    await turn('soft', 'ArrowUp');
    expect(await formulaOf('soft')).toBe('mean(close, 21 bars)');
    await turn('soft', 'ArrowUp', 'Shift');
    expect(await formulaOf('soft')).toBe('mean(close, 31 bars)');
    for (let i = 0; i < 5; i++) await turn('soft', 'ArrowDown', 'Shift');
    expect(await formulaOf('soft')).toBe('mean(close, 1 bars)');
  });

  it('has the chart and the figures follow', async () => {
    const before = await exactly('soft');
    for (let i = 0; i < 3; i++) await turn('soft', 'ArrowUp', 'Shift');
    await reader.page.waitForFunction(
      (old) => document.querySelector('[aria-label="Entry soft"] .figures')?.getAttribute('title') !== old,
      {},
      before,
    );
    expect(await formulaOf('soft')).toBe('mean(close, 31 bars)');
  });
});

describe('an entry', () => {
  it('says on hover what it is, in words and as it is defined', async () => {
    const title = await reader.page.$eval('[aria-label="Entry slow"] .name', (node) => node.getAttribute('title')!);
    expect(title).toContain('mean of close over 60 bars');
    expect(title.split('\n').length).toBeGreaterThan(1);
  });

  it('is hidden and shown by its mark', async () => {
    await (await reader.find('::-p-aria(Entry hem) ::-p-aria([role="button"])')).click();
    const ink = await reader.inkIn(0);
    await reader.find('::-p-aria(Entry hem)');
    await (await reader.find('::-p-aria(Entry hem) ::-p-aria([role="button"])')).click();
    await reader.page.waitForFunction(
      (less) => {
        const canvas = document.querySelector<HTMLCanvasElement>('.lane canvas')!;
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return data.filter((alpha, at) => at % 4 === 3 && alpha > 0).length > less;
      },
      {},
      ink,
    );
  });

  it('takes another place among its lane by key, and by dragging its name', async () => {
    expect(await namesIn('Price lane')).toEqual(['soft', 'slow', 'hem']);
    await more('hem');
    await reader.click('button', 'up');
    await reader.page.waitForFunction(() => document.querySelectorAll('.entry .name')[1].textContent === 'hem');
    await more('hem');
    await drag('slow', '[aria-label="Entry soft"]');
    await reader.page.waitForFunction(() => document.querySelector('.entry .name')!.textContent === 'slow');
    expect(await namesIn('Price lane')).toEqual(['slow', 'soft', 'hem']);
  });

  it('goes to another lane by dragging it there', async () => {
    await drag('slow', '[aria-label="Lane 3"]');
    await reader.page.waitForFunction(() => document.querySelectorAll('[aria-label="Lane 3"] .entry').length === 2);
    expect(await namesIn('Price lane')).toEqual(['soft', 'hem']);
    expect(await namesIn('Lane 3')).toEqual(['wild', 'slow']);
  });

  it('that would look flat there is offered a scale of its own, and takes it', async () => {
    await reader.click('button', 'too flat here: use its own scale');
    await reader.seesNot('too flat here');
    await drag('slow', '[aria-label="Price lane"]');
    await reader.page.waitForFunction(() => document.querySelectorAll('[aria-label="Lane 3"] .entry').length === 1);
  });

  it('has a width and a pattern', async () => {
    const toggleBands = async () => (await reader.find('::-p-aria(Entry hem) ::-p-aria([role="button"])')).click();
    await toggleBands(); // their ground would cover the line
    await more('soft');
    const label = (starts: string) =>
      `::-p-aria(How soft is drawn) ::-p-xpath(.//label[starts-with(normalize-space(), "${starts}")]//select)`;
    await reader.page.select(label('width'), '1');
    const fine = await reader.inkIn(0);
    await reader.page.select(label('width'), '2.6');
    await expect.poll(() => reader.inkIn(0)).toBeGreaterThan(fine);
    await reader.page.select(label('line'), '1');
    await reader.page.waitForFunction(
      () => document.querySelector('[aria-label="Entry soft"] .mark line')?.getAttribute('stroke-dasharray') === '10 4',
    );
    await toggleBands();
    await more('soft');
  });

  it('takes another name, and the entries that use it are told', async () => {
    await reader.write('twice = 2 * soft');
    await reader.find('::-p-aria(Entry twice)');
    await (await reader.find('::-p-aria(Entry soft)')).hover();
    await reader.click('button', 'Edit soft');
    const field = await reader.control('combobox', 'Formula of soft');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('gone = mean(close, 31 bars)');
    await press('Escape');
    await reader.click('button', 'Edit soft');
    await (await reader.control('combobox', 'Formula of soft')).click({ count: 3 });
    await reader.page.keyboard.type('gentle = mean(close, 31 bars)');
    await press('Enter');
    await reader.find('::-p-aria(Entry gentle)');
    await reader.find('::-p-aria(Entry twice) ::-p-xpath(.//*[contains(., "soft") and contains(@class, "complaint")])');
    await more('twice');
    await reader.click('button', 'Remove twice');
  });
});

describe('a lane', () => {
  it('shows prices as candles, dots, steps or a line', async () => {
    const pictures = new Set<string>();
    await withTools('Price lane', async () => {
      for (const shape of ['dots', 'steps', 'line', 'candles']) {
        await choose('Price lane', 'prices as', shape);
        pictures.add(await reader.page.$eval('.lane canvas', (canvas) => (canvas as HTMLCanvasElement).toDataURL()));
      }
    });
    expect(pictures.size).toBe(4);
  });

  it('has the scale that is chosen: fixed, by ratio, in percent of what is first in view', async () => {
    const fitted = await axisOf('Price lane');
    await withTools('Price lane', async () => {
      await choose('Price lane', 'scale', 'fixed');
      await fill('Price lane', 'from', '0');
      await fill('Price lane', 'to', '1000');
      await reader.page.waitForFunction(() =>
        document.querySelector('[aria-label="Price lane"] .axis')?.textContent?.includes('800'),
      );
      await choose('Price lane', 'scale', 'log');
      await choose('Price lane', 'scale', 'percent');
      await reader.page.waitForFunction(() =>
        document.querySelector('[aria-label="Price lane"] .axis')?.textContent?.includes('%'),
      );
      await choose('Price lane', 'scale', 'fit');
    });
    expect(await axisOf('Price lane')).toEqual(fitted);
  });

  it('writes its figures with the places, the sign and the unit one gives it', async () => {
    await withTools('Price lane', async () => {
      await fill('Price lane', 'decimals', '3');
      await fill('Price lane', 'currency', 'kr ');
      await fill('Price lane', 'unit', 'a bale');
    });
    for (const text of await axisOf('Price lane')) expect(text).toMatch(/^kr [\d,]+\.\d{3} a bale$/);
    for (let step = 0; step < 3; step++) await reader.click('button', 'undo');
    await reader.page.waitForFunction(
      () => !document.querySelector('[aria-label="Price lane"] .axis')?.textContent?.includes('kr'),
    );
  });

  it('folds to its margin and unfolds', async () => {
    const height = () => reader.page.$eval('[aria-label="Volume lane"]', (lane) => lane.clientHeight);
    const whole = await height();
    await (await reader.find('::-p-aria(Volume lane)')).hover();
    await reader.click('button', 'Settings of the volume lane');
    await reader.click('button', 'fold');
    expect(await reader.page.$$('[aria-label="Volume lane"] canvas')).toHaveLength(0);
    await reader.click('button', 'unfold');
    await reader.page.waitForSelector('[aria-label="Volume lane"] canvas');
    await reader.click('button', 'Settings of the volume lane');
    expect(Math.abs((await height()) - whole)).toBeLessThanOrEqual(1);
  });
});

describe('what lies on the plot', () => {
  it('has notes in which any key is a letter', async () => {
    await (await reader.page.$$('.canvas'))[0].focus();
    await press('Home');
    await press('ArrowLeft');
    await press('n');
    const shown = () =>
      reader.page.$eval(
        '::-p-aria(Stretch in view)',
        (node) => node.getAttribute('aria-valuetext') ?? node.getAttribute('aria-valuenow'),
      );
    const before = await shown();
    await (await reader.find('.note input')).type('0 or +1-');
    expect(await reader.page.$eval('.note input', (field) => (field as HTMLInputElement).value)).toBe('0 or +1-');
    expect(await shown()).toBe(before);
    await press('Enter');
    await reader.click('button', 'undo');
  });

  it('bars that an entry is short of stay blank, are filled by starting early, or are left out', async () => {
    await (await reader.page.$$('.canvas'))[0].focus();
    await press('0');
    await reader.sees('gentle: 30 bars short');
    const early = await reader.find('::-p-xpath(//*[contains(@class, "short")]//button[text()="start early"])');
    await early.click();
    await reader.page.waitForFunction(() =>
      [...document.querySelectorAll('.entry .formula')].some((node) => node.textContent!.includes('from: 1')),
    );
    await reader.click('button', 'leave these bars out');
    await reader.seesNot('bars short');
    await reader.click('button', 'undo');
    await reader.click('button', 'undo');
    await (await reader.page.$$('.canvas'))[0].focus();
    await press('0');
    await reader.sees('gentle: 30 bars short');
  });
});

describe('two fingers', () => {
  it('drawn apart come nearer, about where they are', async () => {
    const shown = () =>
      reader.page.$eval('::-p-aria(Stretch in view)', (node) => Number(node.getAttribute('aria-valuenow')));
    const barsInView = () => reader.page.$eval('.strip .window', (node) => node.getBoundingClientRect().width);
    const [before, wide] = [await shown(), await barsInView()];
    const box = (await (await reader.page.$$('.canvas'))[0].boundingBox())!;
    const session = await reader.page.createCDPSession();
    const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', apart: number) =>
      session.send('Input.dispatchTouchEvent', {
        type,
        touchPoints:
          type === 'touchEnd'
            ? []
            : [-1, 1].map((side, id) => ({ x: box.x + box.width / 2 + side * apart, y: box.y + box.height / 2, id })),
      });
    await touch('touchStart', 60);
    for (let apart = 80; apart <= 300; apart += 20) await touch('touchMove', apart);
    await touch('touchEnd', 0);
    await reader.page.waitForFunction(
      (was) => document.querySelector('[aria-label="Stretch in view"]')?.getAttribute('aria-valuenow') !== String(was),
      {},
      before,
    );
    expect(await barsInView()).toBeLessThan(wide);
    await (await reader.page.$$('.canvas'))[0].focus();
    await press('0');
  });
});

describe('the rows', () => {
  it('are copied as text with tabs, a heading first', async () => {
    await press('r');
    await reader.find('::-p-aria(Figures of the bars)');
    await reader.click('button', 'copy');
    await reader.sees('rows copied');
    const text = await reader.page.evaluate(() => navigator.clipboard.readText());
    const [head, ...lines] = text.split('\n').map((line) => line.split('\t'));
    expect(head.slice(0, 5)).toEqual(['time', 'open', 'high', 'low', 'close']);
    expect(head).toContain('gentle');
    expect(lines.length).toBeGreaterThan(100);
    for (const line of lines) expect(line.length).toBe(head.length);
    const [at, close] = [head.indexOf('gentle'), head.indexOf('close')];
    const mean = lines.slice(0, 31).reduce((sum, line) => sum + Number(line[close]), 0) / 31;
    expect(Number(lines[30][at])).toBeCloseTo(mean, 9);
    expect(lines[29][at]).toBe('');
    await reader.click('button', 'close');
  });
});

describe('from one ledger to the next', () => {
  it.each([
    ['Trend', 'steepness'],
    ['Bands and oscillator', 'swing'],
    ['Volatility', 'by_range'],
    ['Memory', 'echo'],
  ])('the set %s comes with entries that can be drawn', async (set, entry) => {
    await reader.click('button', 'sets');
    await reader.click('button', set);
    await reader.find(`::-p-aria(Entry ${entry})`);
    await reader.page.waitForFunction(
      (name) => document.querySelector(`[aria-label="Entry ${name}"] [title*="${name} "]`) !== null,
      {},
      entry,
    );
    expect(await reader.page.$$('.complaint')).toHaveLength(0);
    await reader.click('button', 'undo');
    await reader.page.waitForFunction((name) => !document.querySelector(`[aria-label="Entry ${name}"]`), {}, entry);
  });

  it('a ledger is copied, and the copy has a tape of its own in one step', async () => {
    await reader.saved();
    await press('l');
    await reader.click('button', 'Copy this ledger');
    await reader.page.waitForFunction(() => document.title.includes('copy'));
    await reader.find('::-p-aria(Entry gentle)');
    const before = await exactly('gentle');
    await reader.page.select('select[aria-label="Tape"]', 'SALT');
    await reader.page.waitForFunction(
      (old) => document.querySelector('[aria-label="Entry gentle"] .figures')?.getAttribute('title') !== old,
      {},
      before,
    );
    expect(await namesIn('Price lane')).toEqual(['gentle', 'hem', 'slow']);
    await reader.saved();
  });

  it('an entry that is kept is offered, whole, where the next one is written', async () => {
    await more('slow');
    await reader.click('button', 'save for other ledgers');
    await reader.control('button', 'remove from saved formulas');
    await reader.openLedger('KELP');
    await (await reader.page.$$('input[aria-label="New entry"]'))[0].click();
    await reader.page.keyboard.type('slo');
    await reader.sees('saved for other ledgers');
    await press('Tab');
    await press('Enter');
    await reader.find('::-p-aria(Entry slow)');
    expect(await formulaOf('slow')).toBe('mean(close, 60 bars)');
    await more('slow');
    await reader.click('button', 'remove from saved formulas');
    await reader.control('button', 'save for other ledgers');
    expect(await (await fetch(`${reader.origin}/api/entries`)).json()).toEqual([]);
  });
});

/** Drags the name of an entry to where it is let go. */
async function drag(entry: string, target: string): Promise<void> {
  await reader.page.evaluate(
    (name, to) => {
      const from = document.querySelector(`[aria-label="Entry ${name}"] .name`)!;
      const onto = document.querySelector(to)!.querySelector('.margin') ?? document.querySelector(to)!;
      const dataTransfer = new DataTransfer();
      const send = (node: Element, type: string) =>
        node.dispatchEvent(new DragEvent(type, { dataTransfer, bubbles: true, cancelable: true }));
      send(from, 'dragstart');
      send(onto, 'dragover');
      send(onto, 'drop');
    },
    entry,
    target,
  );
}
