import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* What is chosen on a ledger: the stretch, the columns of the rows, labels, scales, and one ledger among many. */

let reader: Reader;

/** A value a day, from 1 on, over the first 60 days of 2025. */
const DAYS = Array.from({ length: 60 }, (_, at) => new Date(Date.UTC(2025, 0, 1 + at)).toISOString().slice(0, 10));

beforeAll(async () => {
  reader = await Reader.arrive();
  const lines = DAYS.map((day, at) => [day, ...new Array<number>(4).fill(at + 1), at % 2 ? 'Mole' : 'East'].join());
  const body = `date,open,high,low,close,quay\n${lines.join('\n')}\n`;
  const asked = '/api/tapes?name=LEVEL&columns=date,open,high,low,close,text%3Dquay&interval=1+day';
  expect((await fetch(reader.origin + asked, { method: 'POST', body })).status).toBe(201);
  await reader.openLedger('LEVEL');
  await reader.write('total = cumulative(close)');
  await reader.find('::-p-aria(Entry total)');
  await reader.write('later = lag(close)');
  await reader.find('::-p-aria(Entry later)');
});
afterAll(() => reader.leave());

const ends = () => reader.page.$$eval('h1 input', (fields) => fields.map((field) => (field as HTMLInputElement).value));
const type = async (name: string, text: string) => {
  const field = await reader.control('textbox', name);
  await field.click({ count: 3 });
  await reader.page.keyboard.type(text);
  await reader.page.keyboard.press('Enter');
};
const endsAre = (from: string, to: string) =>
  reader.page.waitForFunction(
    (wanted) =>
      [...document.querySelectorAll('h1 input')].map((field) => (field as HTMLInputElement).value).join() === wanted,
    {},
    `${from},${to}`,
  );
const totalIs = (figure: number) =>
  reader.page.waitForFunction(
    (wanted) => document.querySelector('[aria-label="Entry total"] .figures')?.getAttribute('title') === wanted,
    {},
    `total ${figure}`,
  );
const work = async (choice: 'all' | 'shown') =>
  (await reader.control('combobox', 'Bars that are worked with')).select(choice);

describe('a stretch', () => {
  it('is shown once it is typed, as exactly as it is meant', async () => {
    expect(await ends()).toEqual(['2025-01-01', '2025-03-01']);
    await type('First bar shown', 'Feb 2025');
    await endsAre('2025-02-01', '2025-03-01');
    await type('Last bar shown', '2025-02');
    await endsAre('2025-02-01', '2025-02-28');
    await type('Last bar shown', '2025-02-30');
    await reader.sees('2025-02-30 is no time; write as much of one as is meant');
  });

  it('is worked with alone, which is said and can be undone', async () => {
    await totalIs((59 * 60) / 2); // through day 59
    await work('shown');
    await reader.sees('only the bars from 2025-02-01 to 2025-02-28');
    await totalIs((59 * 60 - 31 * 32) / 2);
    await reader.click('button', 'undo');
    await totalIs((59 * 60) / 2);
    await reader.click('button', 'redo');
    await reader.saved();
    await reader.page.reload();
    await reader.sees('only the bars from 2025-02-01 to 2025-02-28');
  });

  it('is all bars again where all are shown', async () => {
    await work('all');
    await reader.click('button', 'show all');
    await work('shown');
    await totalIs((60 * 61) / 2);
    expect(
      await (
        await reader.control('combobox', 'Bars that are worked with')
      ).evaluate((field) => (field as HTMLSelectElement).value),
    ).toBe('all');
  });

  it('is measured in months where bars are long', async () => {
    await work('all');
    await reader.click('button', 'show all');
    await (await reader.page.$$('.canvas'))[0].focus();
    await reader.page.keyboard.press('m');
    for (let day = 0; day < 28; day++) await reader.page.keyboard.press('ArrowLeft'); // from 1 March to 1 February
    await reader.sees('28 bars, 1 month');
    await reader.page.keyboard.press('m');
  });
});

describe('the rows', () => {
  const heads = () =>
    reader.page.$$eval('[aria-label="Figures of the bars"] thead th', (cells) => cells.map((cell) => cell.textContent));

  it('have the columns that are chosen, in their order, with lines where they are drawn', async () => {
    await reader.page.keyboard.press('r');
    await reader.click('button', 'columns');
    expect(await heads()).toEqual(['time', 'value', 'quay', 'total', 'later']);
    await reader.click('checkbox', 'total');
    await reader.click('button', 'later further to the left');
    await reader.page.waitForFunction(
      () =>
        [...document.querySelectorAll('[aria-label="Figures of the bars"] thead th')]
          .map((cell) => cell.textContent)
          .join() === 'time,value,later,quay',
    );
  });

  it('open the working of the entry whose figure is pointed at', async () => {
    await reader.click('button', 'last');
    await reader.page.waitForFunction(() => {
      const row = document.querySelector('[aria-label="Figures of the bars"] tbody tr:last-child');
      return row?.querySelector('th')?.textContent === 'Sat 1 Mar 2025';
    });
    await reader.page.$eval('[aria-label="Figures of the bars"] tbody tr:last-child td:nth-child(3)', (cell) =>
      (cell as HTMLElement).click(),
    );
    await reader.sees('lag of close');
    await reader.page.keyboard.press('Escape');
  });
});

describe('an entry', () => {
  const more = async (name: string) => {
    await (await reader.find(`::-p-aria(Entry ${name})`)).hover();
    await reader.click('button', `More of ${name}`);
  };

  it('has a label, and a line that is drawn later reaches bars to come, which say what they are', async () => {
    await more('later');
    await (await reader.control('textbox', 'Label of later')).type('yesterday');
    await reader.page.keyboard.press('Tab');
    await reader.page.waitForFunction(
      () => document.querySelector('[aria-label="Entry later"] .label')?.textContent?.trim() === 'yesterday',
    );
    const later = await reader.control('spinbutton', 'Rows that later is drawn later');
    await later.click({ count: 3 });
    await reader.page.keyboard.type('3');
    await reader.page.keyboard.press('Tab');
    await more('later');
    await (await reader.page.$$('.canvas'))[0].focus();
    for (let step = 0; step < 29; step++) await reader.page.keyboard.press('ArrowRight');
    await reader.page.keyboard.press('w');
    await reader.sees('This bar is in the future');
    await reader.sees('later stands here since it is drawn 3 bars later');
    await reader.click('button', 'Show that one');
    await reader.sees('lag of close');
    await reader.page.keyboard.press('Escape');
  });

  it('shares the scale of the lane above, where it is asked for', async () => {
    await more('later');
    await reader.click('button', 'own lane');
    await reader.find('::-p-aria(Lane 2)');
    const axis = (lane: string) =>
      reader.page.$$eval(`[aria-label="${lane}"] .axis span`, (texts) => texts.map((text) => text.textContent));
    const apart = await axis('Lane 2');
    await (await reader.find('::-p-aria(Lane 2)')).hover();
    await reader.click('button', 'Settings of the lane 2');
    await reader.find('[aria-label="Lane 2"] .tools select');
    await reader.page.select('[aria-label="Lane 2"] .tools select', 'above');
    await reader.page.waitForFunction(
      (old) =>
        [...document.querySelectorAll('[aria-label="Lane 2"] .axis span')].map((t) => t.textContent).join() !== old,
      {},
      apart.join(),
    );
    // of one scale: figures of the lower lane, which has less room, are among those of the upper one's range
    expect(Number(String((await axis('Lane 2')).at(-1)).replaceAll(',', ''))).toBeGreaterThan(100);
  });
});

it('ledgers are found by words, those of the tape first', async () => {
  await reader.saved();
  await reader.page.keyboard.press('Escape');
  await reader.click('button', 'ledgers');
  const field = await reader.control('searchbox', 'Find a ledger');
  await reader.sees('of LEVEL');
  await field.type('cumulative(close)');
  await reader.page.waitForFunction(() => document.querySelectorAll('[aria-label="All ledgers"] li').length === 1);
  await field.type(' nowhere');
  await reader.sees('No ledger has these words.');
});

it('files have the columns that were chosen, of bars that were worked with alone', async () => {
  const body = JSON.stringify({
    tape: 'LEVEL',
    bars: '1 day',
    entries: ['total = cumulative(close)', 'east = where(quay == "East", close)'],
    alone: { from: '2025-02-01T00:00:00Z' },
    to: '2025-02-03T00:00:00Z',
    columns: ['east', 'close', 'total'],
  });
  const asked = (sent: string) =>
    fetch(`${reader.origin}/api/columns`, { method: 'POST', headers: { accept: 'text/csv' }, body: sent });
  expect(await (await asked(body)).text()).toBe(
    'time,east,close,total\n2025-02-01T00:00:00Z,,32,32\n2025-02-02T00:00:00Z,33,33,65\n',
  );
  const wrong = await asked(body.replace('"east",', '"est",'));
  expect([wrong.status, ((await wrong.json()) as { detail: string }).detail]).toEqual([
    400,
    expect.stringContaining('No column is called est; there are time, end, open'),
  ]);
});
