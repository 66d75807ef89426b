import { afterAll, beforeAll, describe, expect } from 'vitest';
import { Reader } from './reader.js';
import { story } from './story.js';

/* The first hour of an analyst with the book: a file comes in, bars are cut, averages laid over them, all of it kept. */

/** Trades of two mornings, a trade a minute; the price climbs by a cent each. */
function trades(from = 10_000): string {
  const lines = Array.from({ length: 480 }, (_, i) => {
    const at = new Date(Date.UTC(2026, 1, 2 + Math.floor(i / 240), 9, i % 240, 5));
    return `${at.toISOString()},${((from + i) / 100).toFixed(2)},${1 + (i % 7)}`;
  });
  return `time,price,size\n${lines.join('\n')}\n`;
}

const it = story();
let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

/** The figure of an entry in the margin. */
const figureOf = (name: string) =>
  reader.page.$eval(`::-p-aria(Entry ${name})`, (entry) => entry.querySelector('.figures')!.textContent!.trim());

describe('a file of trades', () => {
  it('dropped on the page shows its first lines and enters the shelf', async () => {
    await reader.open('/records');
    await reader.drop('morning trades.csv', trades());
    await reader.sees('2026-02-02T09:00:05.000Z');
    await reader.sees('2026-02-02T09:00:05Z');
    await reader.click('button', 'Import');
    await reader.sees('MORNING_TRADES was imported');
    expect(await reader.text()).toMatch(/MORNING_TRADES\s+trades\s+480/);
  });

  it('opens as bars, with volume below and the whole span at the foot', async () => {
    await reader.click('link', 'open its ledger');
    await reader.sees('15-minute');
    expect(await reader.page.$eval('select[aria-label=Tape]', (choice) => (choice as HTMLSelectElement).value)).toBe(
      'MORNING_TRADES',
    );
    await reader.sees('32 bars');
    expect(await reader.inkIn(0)).toBeGreaterThan(500);
    expect(await reader.inkIn(1)).toBeGreaterThan(500);
  });
});

describe('the bar rule', () => {
  it('is changed in the heading sentence by hand', async () => {
    await reader.click('button', '15-minute bars, by the rule 15 minutes');
    await reader.click('button', '30 minutes');
    await reader.sees('30-minute');
    await reader.sees('16 bars');
  });

  it('or by typing, and a wrong one is explained in place', async () => {
    await reader.click('button', '30-minute bars, by the rule 30 minutes');
    await (await reader.control('textbox', 'Bar rule')).evaluate((field) => ((field as HTMLInputElement).value = ''));
    await reader.page.keyboard.type('5 minuts');
    await reader.page.keyboard.press('Enter');
    await reader.sees('minuts is no unit for bars');
    await reader.page.keyboard.down('Control');
    await reader.page.keyboard.press('a');
    await reader.page.keyboard.up('Control');
    await reader.page.keyboard.type('5 minutes');
    await reader.page.keyboard.press('Enter');
    await reader.sees('5-minute');
    await reader.sees('96 bars');
  });

  it('takes bars by count as well', async () => {
    await reader.click('button', '5-minute bars, by the rule 5 minutes');
    await reader.click('button', '100 trades');
    await reader.sees('100-trade bars');
    await reader.sees('5 bars');
    await reader.click('button', '100-trade bars, by the rule 100 trades');
    await reader.click('button', '5 minutes');
    await reader.sees('96 bars');
  });
});

describe('an entry', () => {
  it('is written into the empty line, drawn, and shows its value', async () => {
    const before = await reader.inkIn(0);
    await reader.write('slow = mean(close, 10 bars)');
    await reader.find('::-p-aria(Entry slow)');
    // the last bar closes at 104.79 and bars rise by 0.05: the mean of ten lies 4.5 bars back
    expect(await figureOf('slow')).toBe('104.565');
    await reader.sees('slow: 9 bars short');
    expect(await reader.inkIn(0)).toBeGreaterThan(before);
  });

  it('that is wrong is explained where it stands, and not added', async () => {
    await reader.write('bad = maen(close, 5 bars)');
    await reader.sees('No function is called maen; did you mean mean?');
    expect(await reader.page.$('::-p-aria(Entry bad)')).toBeNull();
    await reader.page.keyboard.down('Control');
    await reader.page.keyboard.press('a');
    await reader.page.keyboard.up('Control');
    await reader.page.keyboard.press('Delete');
    await reader.seesNot('did you mean');
  });

  it('without a name gets one; in another unit, a lane of its own', async () => {
    await reader.writeInNewLane('return(close)');
    await reader.find('::-p-aria(Entry my_return)');
    expect((await reader.page.$$('.lane')).length).toBe(3);
  });

  it('has numbers that turn by dragging and by the arrow keys', async () => {
    const number = await reader.control('spinbutton', 'bars');
    const box = (await number.boundingBox())!;
    await reader.page.mouse.move(box.x + 3, box.y + 5);
    await reader.page.mouse.down();
    await reader.page.mouse.move(box.x + 3 + 50, box.y + 5, { steps: 10 });
    await reader.page.mouse.up();
    await reader.sees('mean(close, 20 bars)');
    await reader.page.waitForFunction(() => document.body.innerText.includes('slow: 19 bars short'));
    expect(await figureOf('slow')).toBe('104.315');
    await number.focus();
    await reader.page.keyboard.press('ArrowDown');
    await reader.sees('mean(close, 19 bars)');
    await reader.page.keyboard.down('Shift');
    await reader.page.keyboard.press('ArrowUp');
    await reader.page.keyboard.up('Shift');
    await reader.sees('mean(close, 29 bars)');
  });

  it('is written anew, explained while it is wrong, and drawn again', async () => {
    await (await reader.find('::-p-aria(Entry slow)')).hover();
    await reader.click('button', 'Edit slow');
    await reader.page.keyboard.type('slow = ema(close, 5 bras)');
    await reader.page.keyboard.press('Enter');
    await reader.sees('bras is no unit of length');
    await (await reader.find('::-p-aria(Entry slow)')).hover();
    await reader.click('button', 'Edit slow');
    await reader.page.keyboard.type('slow = ema(close, 5 bars)');
    await reader.page.keyboard.press('Enter');
    await reader.seesNot('bras is no unit');
    await reader.sees('slow: 4 bars short');
  });

  it('is there again after a reload, with the view and the rule', async () => {
    await (
      await reader.control(
        'application',
        'Plot: arrow keys read bar by bar, plus and minus zoom, 0 shows the whole span',
      )
    ).focus();
    await reader.page.keyboard.press('+');
    await reader.saved();
    const shown = await reader.page.$eval('::-p-aria(Stretch in view)', (slider) =>
      slider.getAttribute('aria-valuenow'),
    );
    await reader.page.reload();
    await reader.find('::-p-aria(Entry slow)');
    await reader.sees('5-minute');
    await reader.find('::-p-aria(Entry my_return)');
    const again = await reader.page.$eval('::-p-aria(Stretch in view)', (slider) =>
      slider.getAttribute('aria-valuenow'),
    );
    expect(again).toBe(shown);
  });

  it('goes when it is removed, and its lane with it', async () => {
    await (await reader.find('::-p-aria(Entry my_return)')).hover();
    await reader.click('button', 'More of my_return');
    await reader.click('button', 'Remove my_return');
    await reader.page.waitForFunction(() => document.querySelectorAll('.lane').length === 2);
    await reader.saved();
    await reader.page.reload();
    await reader.find('::-p-aria(Entry slow)');
    expect(await reader.page.$('::-p-aria(Entry my_return)')).toBeNull();
  });
});

describe('all lanes', () => {
  it('share the pointer: a line through each, the figures in the margin, the moment below', async () => {
    const plots = await reader.page.$$('.canvas');
    const box = (await plots[1].boundingBox())!;
    await reader.page.mouse.move(box.x + 200, box.y + 30);
    await reader.page.waitForFunction(
      () => document.querySelectorAll('.pointer').length === document.querySelectorAll('.lane').length,
    );
    expect(await reader.text()).toMatch(/(Mon 2|Tue 3) Feb 2026 \d\d:\d\d/);
  });

  it('pan by dragging, zoom by the wheel about the pointer, and fit by a double click', async () => {
    const valueNow = () =>
      reader.page.$eval('::-p-aria(Stretch in view)', (slider) => Number(slider.getAttribute('aria-valuenow')));
    const width = () => reader.page.$eval('.window', (element) => element.clientWidth);
    const box = (await (await reader.find('.canvas')).boundingBox())!;
    const before = await width();
    await reader.page.mouse.move(box.x + 300, box.y + 50);
    await reader.page.mouse.wheel({ deltaY: -600 });
    await reader.page.waitForFunction((was) => document.querySelector('.window')!.clientWidth < was, {}, before);
    const at = await valueNow();
    await reader.page.mouse.down();
    await reader.page.mouse.move(box.x + 600, box.y + 50, { steps: 5 });
    await reader.page.mouse.up();
    expect(await valueNow()).toBeLessThan(at);
    await reader.page.mouse.click(box.x + 300, box.y + 50, { count: 2 });
    await reader.page.waitForFunction(() => document.querySelector('.window')!.getAttribute('aria-valuenow') === '0');
  });

  it('follow the window in the whole span', async () => {
    const handle = (await (await reader.find('::-p-aria(End of the stretch)')).boundingBox())!;
    await reader.page.mouse.move(handle.x + 3, handle.y + 5);
    await reader.page.mouse.down();
    await reader.page.mouse.move(handle.x - 400, handle.y + 5, { steps: 5 });
    await reader.page.mouse.up();
    const { view, whole } = await reader.page.$eval('.window', (element) => ({
      view: element.clientWidth,
      whole: element.parentElement!.clientWidth,
    }));
    expect(view).toBeLessThan(whole * 0.7);
  });
});

describe('a file with flaws', () => {
  it.each([
    ['without records', 'nothing.csv', '', 'The file is empty'],
    ['without times', 'no-times.csv', 'colour,price\nred,2\n', 'No column is the time: the file has colour, price'],
  ])('%s is refused in plain words', async (_, name, content, words) => {
    await reader.open('/records');
    await reader.drop(name, content);
    await reader.sees(words);
    await reader.click('button', 'Cancel');
  });

  it('with many lines that cannot be read says which, and enters the rest if asked to', async () => {
    await reader.drop(
      'half.csv',
      `time,price,size\n2026-02-03T13:00:00Z,84,1\n2026-02-03T13:01:00Z,84,2\n2026-02-03T14:00:00Z,84.x,1\n`,
    );
    await reader.sees('Price 84.x is not a number');
    await reader.click('button', 'Import');
    await reader.sees('1 of 4 lines cannot be read');
    await reader.click('button', 'Leave these lines out and enter the rest');
    await reader.sees('HALF was imported');
    await reader.sees('1 line left out');
  });

  it('with a name that is taken, or a zone that is none, leaves nothing behind', async () => {
    await reader.drop('half.csv', trades());
    const name = await reader.control('textbox', 'Name');
    await name.evaluate((field) => (field as HTMLInputElement).select());
    await reader.page.keyboard.type('KELP');
    await reader.click('button', 'Import');
    await reader.sees('A tape is called KELP already');
    const zone = await reader.control('combobox', 'Zone of its times');
    await zone.evaluate((field) => (field as HTMLInputElement).select());
    await reader.page.keyboard.type('Atlantis');
    await reader.page.keyboard.press('Tab'); // it is not looked at while it is typed
    await reader.sees('Zone must be the IANA name');
    await reader.click('button', 'Cancel');
    expect(
      (await (await fetch(`${reader.origin}/api/tapes?limit=1000`)).json()).map((tape: { name: string }) => tape.name),
    ).not.toContain('HALF_2');
  });
});

describe('the intake', () => {
  it('shows each row as it stands beside how it is read, and follows every change at once', async () => {
    await reader.drop('levels.csv', 'day;level;note\n03/02/2026;84,2;a\n04/02/2026;84,3;b\n');
    await reader.sees('2026-02-03');
    await reader.sees('Both fit all dates');
    await reader.click('button', 'the month first');
    await reader.sees('2026-03-02');
    await (await reader.control('combobox', 'What level is')).select('skip');
    await reader.sees('No column is the value');
    await (await reader.control('combobox', 'What level is')).select('value');
    await reader.seesNot('No column is the value');
    await reader.click('button', 'Cancel');
  });

  it('finds the flaws of the file with flaws, enters it, and shows where it comes from', async () => {
    const flawed = await (await fetch(`${reader.origin}/records/flawed`)).text();
    await reader.drop('kelp-with-flaws.csv', flawed);
    const zone = await reader.control('combobox', 'Zone of its times');
    await zone.evaluate((field) => (field as HTMLInputElement).select());
    await reader.page.keyboard.type('Atlantic/Faroe');
    await reader.sees('in the sample');
    await reader.click('button', 'Import');
    await reader.sees('KELP_WITH_FLAWS was imported');
    await reader.click('link', 'Import report');
    for (const words of [
      'holds 247 trades',
      'records out of order, sorted into place',
      '4 exact repeats: flagged',
      '1 price jump that reverts: flagged',
      '1 line that cannot be read: left out',
    ])
      await reader.sees(words);
  });

  it('has the records in a table that goes to the last one and to a time', async () => {
    await reader.click('button', 'last');
    await reader.sees('2026-04-03T10:00:00');
    await (await reader.control('textbox', 'Go to a time')).click();
    await reader.page.keyboard.type('2026-03-31');
    await reader.page.keyboard.press('Enter');
    await reader.sees('2026-03-31T');
  });

  it('and from one flagged record to the next, round to the first again', async () => {
    const { columns } = await (await fetch(`${reader.origin}/api/tapes/KELP_WITH_FLAWS/records?flagged=only`)).json();
    const inView = () =>
      reader.page.$$eval('tr.flagged', (rows) => rows.map((row) => Number(row.querySelectorAll('td')[3].textContent)));
    await reader.click('button', 'first');
    const found = [];
    for (const line of [...columns.line, columns.line[0]]) {
      const answered = reader.page.waitForResponse((response) => response.url().includes('flagged=only'));
      await reader.click('button', 'next flagged');
      await answered;
      await reader.page.waitForFunction(
        (wanted: number) =>
          [...document.querySelectorAll('tr.flagged td:nth-child(4)')].some((cell) => cell.textContent === `${wanted}`),
        {},
        line,
      );
      found.push((await inView()).includes(line));
    }
    expect(found).toEqual(Array(6).fill(true));
  });

  it('and the flagged ones can be left out of the bars', async () => {
    await reader.click('link', 'Open its ledger');
    await reader.sees('5 flagged records');
    await (await reader.control('combobox', 'Flagged records')).select('out');
    await reader.page.waitForFunction(() => !/[78]\d\d\.\d/.test(document.querySelector('.axis')?.textContent ?? ''));
    await reader.saved();
  });

  it('brings a deleted tape back', async () => {
    await reader.open('/records');
    await reader.click('button', 'Delete HALF');
    await reader.sees('HALF is deleted');
    await reader.click('button', 'Bring it back');
    await reader.seesNot('HALF is deleted');
    await reader.find('::-p-aria([name="HALF"][role="link"])');
  });
});
