import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* Examine: one column of bars, what it is like, and what tests say of it. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

interface Told {
  rows: number;
  treatments: string[];
  summary: { count: number; missing: number; zeros: number };
  memory?: { values: { acf: (number | null)[] } };
  verdicts: { question: string; answer: string; says: string }[];
}

const asked = async (body: object) => {
  const answer = await fetch(`${reader.origin}/api/examinations`, { method: 'POST', body: JSON.stringify(body) });
  return { status: answer.status, body: (await answer.json()) as Told & { detail: string } };
};

describe('the instruments of the demo are found to be as they were made', () => {
  it.each([
    ['KELP_days', '1 day', 'logreturn(close)', 'memory', /followed by their like/],
    ['SALT', '1 hour', 'close', 'stationary', /returns to a level/],
    ['AMBR_days', '1 day', 'logreturn(close)', 'clusters', /large moves come together/],
    ['TIDE', '15 minutes', 'close', 'cycle', /304, 32/],
  ])('%s in bars of %s, %s: %s', async (tape, bars, entry, question, says) => {
    await reader.open(`/examine?${new URLSearchParams({ tape, bars, entry })}`);
    await reader.page.waitForFunction(() => document.querySelector('.verdicts h2')?.textContent === 'Verdicts');
    const verdict = (await asked({ tape, bars, entry })).body.verdicts.find((one) => one.question === question)!;
    expect([verdict.answer, verdict.says]).toEqual(['yes', expect.stringMatching(says)]);
    await reader.sees(verdict.says);
  });
});

describe('a page', () => {
  it('shows before and after on one axis, once a change is taken, and its address holds that', async () => {
    await reader.open('/examine?tape=WOOL_days&bars=1+day');
    await reader.sees('No: it wanders. Look at its change instead.');
    await reader.click('button', 'first difference');
    await reader.sees('Yes: it returns to a level.');
    expect(await reader.page.$$eval('[aria-label="The series"] svg', (plots) => plots.length)).toBe(2);
    expect(new URL(reader.page.url()).searchParams.getAll('taken')).toEqual(['change']);
    await reader.page.reload();
    await reader.sees('its change');
    await reader.click('button', 'Leave change out');
    await reader.sees('No: it wanders.');
  });

  it('shows any of its pictures over the whole page, by a press or a key, and comes back', async () => {
    await reader.open('/examine?tape=WOOL_days&bars=1+day');
    const plot = '[role="application"][aria-label^="autocorrelation"]';
    const sizeOf = async () => (await (await reader.find(plot)).boundingBox())!;
    const own = await sizeOf();
    await reader.page.focus(plot);
    await reader.page.keyboard.press('Enter');
    await reader.page.waitForFunction((at) => document.querySelector(at)!.clientHeight > 500, {}, plot);
    expect((await sizeOf()).width).toBeGreaterThan(1100);
    await reader.page.keyboard.press('Escape');
    await reader.page.waitForFunction((at) => document.querySelector(at)!.clientHeight < 200, {}, plot);
    expect(await sizeOf()).toEqual(own);
    await reader.click('button', 'Enlarge the shape');
    await reader.page.waitForFunction(() => document.querySelector('.enlargeable.whole .rows-plot') !== null);
    await reader.click('button', 'Enlarge the shape');
    await reader.page.waitForFunction(() => document.querySelector('.enlargeable.whole') === null);
  });

  it('is written into a ledger as an entry, once; a link from elsewhere only prefills the line', async () => {
    await reader.click('button', 'first difference');
    const link = await reader.page.$eval('[aria-label="Verdicts"] a', (anchor) => (anchor as HTMLAnchorElement).href);
    await reader.click('link', 'Write it into the ledger');
    await reader.find('::-p-aria(Entry my_change)');
    await reader.saved();
    await reader.page.goto(link);
    const field = await reader.find('input[aria-label="New entry"]');
    expect(await field.evaluate((input) => (input as HTMLInputElement).value)).toBe('change(close)');
    expect(await reader.page.$$('.entry')).toHaveLength(1);
    await reader.click('button', 'undo');
    await reader.page.waitForFunction(() => document.querySelectorAll('.entry').length === 0);
    await reader.open('/examine?tape=WOOL_days&bars=1+day');
  });

  it('is of the stretch that is typed', async () => {
    const field = await reader.control('textbox', 'First bar');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('2024');
    await reader.page.keyboard.press('Enter');
    await reader.page.waitForFunction(() => location.search.includes('from=2024-01-01'));
    const values = () =>
      reader.page.$eval('[aria-label="Shape"] dl', (list) =>
        Number(list.querySelector('dd')!.textContent!.replace(',', '')),
      );
    const { body } = await asked({ tape: 'WOOL_days', bars: '1 day', stretch: { from: '2024-01-01T00:00:00Z' } });
    await reader.page.waitForFunction(
      (count) => document.querySelector('[aria-label="Shape"] dd')?.textContent === count.toLocaleString('en'),
      {},
      body.summary.count,
    );
    expect(await values()).toBe(body.rows);
    await field.click({ count: 3 });
    await reader.page.keyboard.type('2024-13');
    await reader.page.keyboard.press('Enter');
    await reader.sees('2024-13 is no time');
  });

  it('reads a lag out at the pointer, on both pictures of its memory', async () => {
    await reader.open('/examine?tape=SALT_days&bars=1+day');
    const plot = await reader.find('.rows-plot[aria-label^="autocorrelation"]');
    const { x, y, width, height } = (await plot.boundingBox())!;
    await reader.page.mouse.move(x + width * 0.01, y + height / 2);
    await reader.page.waitForFunction(() =>
      [...document.querySelectorAll('[aria-label="Memory"] .says')].every((text) =>
        /lag 1 \(a trading day\)/.test(text.textContent!),
      ),
    );
  });

  it('has another instrument beside it, with the same lags on the same scale', async () => {
    await reader.open('/examine?tape=SALT_days&bars=1+day&lags=12');
    await (await reader.control('combobox', 'Tape to compare with')).select('TIDE_days');
    await reader.sees('autocorrelation of TIDE_days');
    const heights = await reader.page.$$eval('[aria-label="Memory"] svg', (plots) =>
      plots.map((plot) => plot.querySelectorAll('.drawn path').length),
    );
    expect(heights).toEqual([12, 12, 12, 12]);
    const axes = await reader.page.$$eval('[aria-label="Memory"] svg', (plots) =>
      plots.map((plot) => [...plot.querySelectorAll('text')].map((text) => text.textContent).join()),
    );
    expect(new Set(axes).size).toBe(1);
    await reader.page.waitForFunction(() => document.querySelectorAll('.verdicts .beside').length === 8);
    await reader.page.reload();
    await reader.sees('autocorrelation of TIDE_days');
  });

  it('is taken apart by a season, and put together by the calendar', async () => {
    await reader.open('/examine?tape=TIDE&bars=15+minutes&season=32&profile=slot');
    await reader.sees('shape of the season');
    await reader.sees('The season explains');
    expect(await reader.page.$('[aria-label="By groups"] svg')).not.toBeNull();
  });

  it('takes transforms from a menu, a band that widens, and names each null hypothesis', async () => {
    await reader.open('/examine?tape=SALT_days&bars=1+day');
    await reader.sees('Null hypothesis: a normal distribution.');
    expect((await reader.text()).match(/Null hypothesis: /g)).toHaveLength(
      (await reader.page.$$('[aria-label="Verdicts"] li')).length,
    );
    const edges = () => reader.page.$$eval('[aria-label="Memory"] path.band', (bands) => bands.length);
    expect(await edges()).toBe(0);
    await reader.page.select('select[aria-label="Band of the autocorrelation"]', 'bartlett');
    await reader.page.waitForFunction(() => document.querySelector('[aria-label="Memory"] path.band'));
    expect(await edges()).toBe(1);
    expect(new URL(reader.page.url()).searchParams.get('band')).toBe('bartlett');
    await reader.page.select('select[aria-label="Add a transform"]', 'relative change');
    await reader.sees('its relative change');
    await reader.sees('return(close)');
    await reader.page.select('select[aria-label="Add a transform"]', 'less season 12');
    await reader.sees('seasonally adjusted over');
  });

  it('says what is wrong with a formula, and goes on once it is right', async () => {
    const field = await reader.control('textbox', 'What is examined');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('mean(close)');
    await reader.page.keyboard.press('Enter');
    await reader.sees('needs a window');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('volume');
    await reader.page.keyboard.press('Enter');
    await reader.sees('volume, as it stands');
  });

  it('is reached from an entry of a ledger, with the entries that it uses', async () => {
    await reader.openLedger('LAMP');
    await reader.write('slow = mean(close, 9 bars)');
    await reader.find('::-p-aria(Entry slow)');
    await reader.write('gap = close - slow', 1);
    await (await reader.find('::-p-aria(Entry gap)')).hover();
    await reader.click('button', 'More of gap');
    await reader.click('link', 'Examine gap');
    await reader.sees('close - slow, as it stands');
  });
});

describe('what cannot be examined is refused with its reason', () => {
  beforeAll(async () => {
    const rows = Array.from({ length: 20 }, (_, at) => `${at + 1},${(at * 7) % 11}`);
    const body = `period,orders\n${rows.join('\n')}\n`;
    const entered = await fetch(`${reader.origin}/api/tapes?name=ORDERS`, { method: 'POST', body });
    expect(entered.status).toBe(201);
  });

  it.each([
    [{ tape: 'NOWHERE', bars: '1 day' }, 404, /NOWHERE/],
    [{ tape: 'KELP_days', bars: '1 fortnight' }, 400, /fortnight/],
    [{ tape: 'KELP_days', bars: '1 day', entry: 'mean(close, [5, 9] bars)' }, 422, /a fan of 2 lines/],
    [{ tape: 'KELP_days', bars: '1 day', treatments: ['square'] }, 400, /one of `log`, `change`/],
    [{ tape: 'KELP_days', bars: '1 day', lags: 401 }, 400, /400/],
    [{ tape: 'KELP_days', bars: '1 day', entry: 'price' }, 422, /called `price`.*"position":0,/],
    [{ tape: 'ORDERS', bars: '1 day', profile: 'weekday' }, 400, /numbered periods/],
    [{ tape: 'KELP_days', bars: '1 day', profile: 'slot' }, 400, /bars by the clock/],
  ])('%j', async (body, status, detail) => {
    const answer = await asked(body);
    expect([answer.status, JSON.stringify(answer.body)]).toEqual([status, expect.stringMatching(detail)]);
  });

  it('but few values, or equal ones, are told as such', async () => {
    const lines = Array.from({ length: 12 }, (_, day) => `2026-02-${String(day + 1).padStart(2, '0')},7`);
    const enter = (name: string, rows: string[]) =>
      fetch(`${reader.origin}/api/tapes?name=${name}`, { method: 'POST', body: `date,level\n${rows.join('\n')}\n` });
    await enter('FLAT', lines);
    await enter('SINGLE', lines.slice(0, 1));
    for (const tape of ['FLAT', 'SINGLE']) {
      const { status, body } = await asked({ tape, bars: '1 day', season: 2, profile: 'weekday' });
      expect(status).toBe(200);
      expect(new Set(body.verdicts.map(({ answer }) => answer))).toEqual(new Set(['open']));
    }
    await reader.open('/examine?tape=FLAT&bars=1+day');
    await reader.sees('At least two different values are needed.');
  });
});
