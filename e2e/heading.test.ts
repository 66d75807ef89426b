import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* The sentence at the head of a ledger says how its bars are cut, and each of its words can be changed. */

let reader: Reader;

const QUOTES = ['time,bid,ask', '2026-02-02T08:30:00Z,10,12', '2026-02-02T08:31:00Z,11,15', ''].join('\n');
const SIDED =
  [
    'time,price,size,side',
    ...['buy', 'sell', 'buy', 'buy'].map((side, row) => `2026-02-02T08:3${row}:00Z,${20 + row},5,${side}`),
  ].join('\n') + '\n';

beforeAll(async () => {
  reader = await Reader.arrive();
  for (const [name, body] of [
    ['BOARD', QUOTES],
    ['SIDED', SIDED],
  ])
    expect((await fetch(`${reader.origin}/api/tapes?name=${name}&zone=UTC`, { method: 'POST', body })).status).toBe(
      201,
    );
});
afterAll(() => reader.leave());

/** The rule of the ledger, as the sentence's own word tells it. */
const rule = () =>
  reader.page.$eval('h1 button.word', (word) => /by the rule (.+)$/.exec(word.getAttribute('aria-label')!)![1]);
/** Bars by the same rule, from the interface for programs. */
const barsBy = async (tape: string, text: string) => {
  const query = new URLSearchParams({ rule: text });
  const answer = await fetch(`${reader.origin}/api/tapes/${tape}/bars?${query}`, { headers: { accept: 'text/csv' } });
  const [head, ...rows] = (await answer.text())
    .trim()
    .split('\n')
    .map((line) => line.split(','));
  return rows.map((row) => Object.fromEntries(head.map((name, at) => [name, row[at]])));
};
const countIs = (count: number) =>
  reader.page.waitForFunction(
    (wanted) => document.querySelector<HTMLElement>('.strip .words')?.innerText.includes(wanted),
    {},
    `${count.toLocaleString('en')} ${count === 1 ? 'bar' : 'bars'}`,
  );
const choose = async (label: string, value: string) => (await reader.control('combobox', label)).select(value);

describe('each way to cut bars', () => {
  beforeAll(() => reader.openLedger('SALT'));

  it.each(['1 minute', '1 hour', '1 day', '1 week', '1 month', '1 quarter', '1 year', '100 trades', '10000 units'])(
    'is there by hand or by typing: %s',
    async (wanted) => {
      await (await reader.find('h1 button.word')).click();
      const byHand = await reader.page.$(`::-p-aria(Choices of bars) ::-p-xpath(.//button[text()="${wanted}"])`);
      if (byHand) await byHand.click();
      else {
        const field = await reader.control('textbox', 'Bar rule');
        await field.click({ count: 3 });
        await reader.page.keyboard.type(wanted);
        await reader.page.keyboard.press('Enter');
      }
      await reader.page.waitForFunction(
        (text) => document.querySelector('h1 button.word')?.getAttribute('aria-label')?.endsWith(`by the rule ${text}`),
        {},
        wanted,
      );
      await countIs((await barsBy('SALT', wanted)).length);
    },
  );

  it('has one of every kind in reach of the hand', async () => {
    await (await reader.find('h1 button.word')).click();
    const offered = await reader.page.$$eval('[aria-label="Choices of bars"] dd button', (buttons) =>
      buttons.map((button) => button.textContent!),
    );
    for (const kind of [
      /second/,
      /minute/,
      /hour/,
      /day/,
      /week/,
      /month/,
      /quarter/,
      /year/,
      /trades/,
      /units/,
      /value/,
      /range/,
    ])
      expect(
        offered.some((text) => kind.test(text)),
        String(kind),
      ).toBe(true);
    await reader.page.keyboard.press('Escape');
  });
});

describe('the other words of the sentence', () => {
  beforeAll(() => reader.openLedger('SALT_minutes'));

  it('leave empty bars out, carry them on, or leave them blank', async () => {
    await choose('Hours', 'all');
    const skipped = await barsBy('SALT_minutes', `${await rule()}`);
    await countIs(skipped.length);
    await choose('Empty bars', 'carry');
    const carried = await barsBy('SALT_minutes', await rule());
    await countIs(carried.length);
    expect(carried.length).toBeGreaterThanOrEqual(skipped.length);
    expect(carried.every(({ close }) => close !== '')).toBe(true);
    await choose('Empty bars', 'blank');
    const blank = await barsBy('SALT_minutes', await rule());
    expect(blank.length).toBe(carried.length);
    await choose('Empty bars', 'skip');
    await choose('Hours', 'session');
  });

  it('let running bars go on over the night, or begin anew each day', async () => {
    await reader.openLedger('SALT');
    await (await reader.find('h1 button.word')).click();
    const field = await reader.control('textbox', 'Bar rule');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('5000 trades');
    await reader.page.keyboard.press('Enter');
    await choose('Across days', 'day');
    expect(await rule()).toBe('5000 trades, restart: day');
    const anew = await barsBy('SALT', '5000 trades, restart: day');
    await countIs(anew.length);
    expect(anew.length).toBeGreaterThan((await barsBy('SALT', '5000 trades')).length);
  });

  it('take one side of the trades, where they know it', async () => {
    await reader.openLedger('SIDED');
    await choose('Sides', 'sell');
    await reader.page.waitForFunction(() =>
      document.querySelector('h1 button.word')?.getAttribute('aria-label')?.includes('side: sell'),
    );
    const [only, ...others] = await barsBy('SIDED', await rule());
    expect(others).toEqual([]);
    expect([only.open, only.close, only.volume].map(Number)).toEqual([21, 21, 5]);
    await countIs(1);
  });

  it('take the bid, the ask or the middle of quotes', async () => {
    await reader.openLedger('BOARD');
    const closes: number[] = [];
    for (const price of ['mid', 'bid', 'ask']) {
      await choose('Price of a quote', price);
      closes.push(Number((await barsBy('BOARD', await rule())).at(-1)!.close));
    }
    expect(closes).toEqual([13, 11, 15]);
  });
});
