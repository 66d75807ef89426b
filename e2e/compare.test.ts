import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { Reader } from './reader';

/* Compare: members beside each other, all pairs, and one pair with the stretches in which it parted. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

const ask = async (body: object) => {
  const answer = await fetch(`${reader.origin}/api/comparisons`, { method: 'POST', body: JSON.stringify(body) });
  return { status: answer.status, body: await answer.json() };
};
const query = () => new URL(reader.page.url()).searchParams;
const at = (test: () => boolean) => reader.page.waitForFunction(test);
const HOURS = '/compare?member=LAMP&member=WOOL&member=KELP&bars=1+hour&window=20';
const members = ['LAMP', 'WOOL', 'KELP'].map((tape) => ({ tape }));

describe('a comparison', () => {
  it('has a line for each member and for the average of all, and says how each stands to it', async () => {
    await reader.open(HOURS);
    await reader.sees('average of all 3');
    await reader.sees('steadily below, falling');
    const lines = await reader.page.$$eval('[aria-label="Lines"] .drawn path', (paths) => paths.length);
    expect(lines).toBe(4);
    // their names stand behind their ends, not on them
    const edges = await reader.page.$eval('[aria-label="Lines"] svg[role="img"]', (svg) => ({
      lines: Math.max(...[...svg.querySelectorAll('.drawn path')].map((path) => path.getBoundingClientRect().right)),
      names: Math.min(...[...svg.querySelectorAll('text.end')].map((text) => text.getBoundingClientRect().left)),
    }));
    expect(edges.names).toBeGreaterThan(edges.lines);
  });

  it('finds the three weeks in which LAMP and WOOL parted, with start and end', async () => {
    await reader.sees('Divergences LAMP with WOOL');
    const [row] = await reader.page.$$eval('[aria-label="Pairs"] .list tbody tr', (rows) =>
      rows.map((one) => (one as HTMLElement).innerText.replaceAll(/\s+/g, ' ')),
    );
    expect(row).toMatch(/^2026-02-0[56789] .*, 2026-02-2[78] /);
    await reader.sees('Reverted in 1 of 1; too few to rely on');
    const { body } = await ask({
      ...{ members, bars: '1 hour' },
      pair: { a: 0, b: 1, window: 20, partedBy: 'correlation' },
    });
    expect(body.pair.stretches).toHaveLength(1);
    const [{ start, end, led }] = body.pair.stretches;
    expect(row).toContain(start.slice(0, 10));
    expect(row).toContain(end.slice(0, 10));
    expect(led).toBe('b');
    // a press shows it, in every lane
    const before = await reader.page.$eval('[aria-label="Lines"] .drawn path', (path) => path.getAttribute('d'));
    await (await reader.find('::-p-xpath(//button[@title="Show it"])')).click();
    await reader.page.waitForFunction(
      (was) => document.querySelector('[aria-label="Lines"] .drawn path')!.getAttribute('d') !== was,
      {},
      before,
    );
  });

  it('has notes at moments, which go with its address', async () => {
    const plot = await reader.find('[aria-label="Lines"] .rows-plot');
    const { x, y, width } = (await plot.boundingBox())!;
    await reader.page.mouse.move(x + width / 2, y + 60);
    await reader.page.keyboard.press('n');
    await reader.page.waitForFunction(() => document.activeElement?.ariaLabel?.startsWith('Note at'));
    await reader.page.keyboard.type('parted here');
    await reader.page.keyboard.press('Enter');
    await at(() => /note=.*parted(\+|%20)here/.test(location.search));
    await reader.page.reload();
    await reader.find('[aria-label^="Note at"]');
    expect(await reader.page.$eval('[aria-label^="Note at"]', (one) => (one as HTMLInputElement).value)).toBe(
      'parted here',
    );
  });

  it('has further notes after one is taken away', async () => {
    const pin = async (share: number, words: string) => {
      const { x, y, width } = (await (await reader.find('[aria-label="Lines"] .rows-plot')).boundingBox())!;
      await reader.page.mouse.move(x + width * share, y + 60);
      await reader.page.keyboard.press('n');
      await reader.page.waitForFunction(() => document.activeElement?.ariaLabel?.startsWith('Note at'));
      await reader.page.keyboard.type(words);
      await reader.page.keyboard.press('Enter');
    };
    await pin(0.3, 'a second');
    const first = await reader.find('[aria-label^="Note at"]');
    await first.evaluate((field) => {
      (field as HTMLInputElement).focus();
      (field as HTMLInputElement).select();
    });
    await reader.page.keyboard.press('Backspace');
    await reader.page.keyboard.press('Enter');
    await reader.page.waitForFunction(() => document.querySelectorAll('[aria-label^="Note at"]').length === 1);
    await pin(0.7, 'a third');
    const words = await reader.page.$$eval('[aria-label^="Note at"]', (all) =>
      all.map((one) => (one as HTMLInputElement).value),
    );
    expect(words.sort()).toEqual(['a second', 'a third']);
  });

  it('correlates all pairs, and a press takes one', async () => {
    const { body } = await ask({ members, bars: '1 hour', window: 20, order: 'likeness', columns: false });
    const text = await reader.page.$eval('.matrix tbody tr td:nth-of-type(2)', (cell) => cell.textContent!.trim());
    expect(Number(text)).toBeCloseTo(body.matrix.values[0][1], 2);
    expect(body.matrix.order.slice(0, 2).sort()).toEqual([0, 1]);
    await (await reader.find('::-p-xpath(//button[starts-with(@aria-label, "KELP with WOOL")])')).click();
    await at(() => /Divergences KELP with WOOL/.test(document.body.innerText.replaceAll('\n', ' ')));
    expect([query().get('a'), query().get('b')]).toEqual(['2', null]);
  });

  it('smooths all lines alike, takes members and leaves them out, and is kept and undone', async () => {
    const field = await reader.control('combobox', 'Write a member');
    await field.type('SALT');
    await reader.page.keyboard.press('Enter');
    await reader.sees('average of all 4');
    await reader.click('button', 'Leave KELP out');
    await reader.sees('average of all 3');
    expect(query().getAll('member')).toEqual(['LAMP', 'WOOL', 'SALT']);
    const smooth = await reader.control('spinbutton', 'Rows of the mean of all lines');
    await smooth.focus();
    await reader.page.keyboard.press('PageUp');
    await at(() => Number(new URLSearchParams(location.search).get('smooth')) > 1);
    await reader.click('button', 'undo');
    await at(() => !new URLSearchParams(location.search).has('smooth'));
    await reader.click('button', 'save');
    await reader.click('button', 'Save');
    await at(() => new URLSearchParams(location.search).has('kept'));
    const kept = await fetch(`${reader.origin}/api/pages/${query().get('kept')}`);
    expect((await kept.json()).body.members.map(({ tape }: { tape: string }) => tape)).toEqual([
      'LAMP',
      'WOOL',
      'SALT',
    ]);
  });
});

describe('what cannot be compared', () => {
  it('is said at its member, and the rest stands', async () => {
    await reader.open('/compare?member=LAMP&member=NOPE&member=WOOL&member=KELP:+crystal&bars=1+hour');
    await reader.sees('No tape is called NOPE');
    await reader.sees('No column or entry is called crystal');
    await reader.sees('average of all 2');
    await reader.open('/compare?member=LAMP_days&bars=5+minutes');
    await reader.sees('None of these can be compared so');
  });

  it('no common row is said', async () => {
    const csv = (hour: string) =>
      ['time,value', ...[1, 2, 3].map((day) => `2026-03-0${day}T${hour}:00:00Z,${day}`)].join('\n');
    for (const [name, hour] of [
      ['ODD_early', '05'],
      ['ODD_late', '06'],
    ])
      await fetch(`${reader.origin}/api/tapes?name=${name}&kind=series`, { method: 'POST', body: csv(hour) });
    const { body } = await ask({ members: [{ tape: 'ODD_early' }, { tape: 'ODD_late' }], bars: '1 hour' });
    expect([body.count, body.says.join()]).toEqual([0, expect.stringContaining('No row is common to all')]);
    const all = await ask({ members: [{ tape: 'ODD_early' }, { tape: 'ODD_late' }], bars: '1 hour', rows: 'carried' });
    expect([all.body.count, all.body.members.map(({ carried }: { carried: number }) => carried)]).toEqual([6, [3, 2]]);
  });

  it.each([
    ['no member', { members: [], bars: '1 hour' }],
    ['no rule', { members: [{ tape: 'LAMP' }], bars: 'often' }],
    ['a pair of one', { members: [{ tape: 'LAMP' }], bars: '1 hour', pair: { a: 0, b: 0 } }],
    [
      'an end beyond the beginning',
      { members: [{ tape: 'LAMP' }, { tape: 'WOOL' }], bars: '1 hour', pair: { a: 0, b: 1, begin: 1, end: 2 } },
    ],
    ['a name that is none', { members: [{ tape: '__proto__' }], bars: '1 hour' }],
    ['too many', { members: Array.from({ length: 501 }, () => ({ tape: 'LAMP' })), bars: '1 hour' }],
  ])('%s is refused', async (_, body) => {
    const answer = await ask(body);
    expect(answer.status).toBe(400);
    expect(answer.body.detail.length).toBeGreaterThan(10);
  });
});

it('two pages side by side show the same stretch and the same moment', async () => {
  const compared = '/compare?member=LAMP&member=WOOL&bars=1+hour';
  const other = '/compare?member=KELP&member=SALT&bars=30+minutes';
  await reader.open(`/beside?${new URLSearchParams({ left: compared, right: other })}`);
  const frames = async () => {
    const found = reader.page.frames().filter((frame) => frame.name().startsWith('beside-'));
    return found.sort((a, b) => a.name().localeCompare(b.name()));
  };
  await reader.page.waitForSelector('iframe');
  await vi.waitFor(async () => expect(await frames()).toHaveLength(2), 10_000); // their names come a moment after them
  const [left, right] = await frames();
  for (const frame of [left, right])
    await frame.waitForSelector('[aria-label="Lines"] .drawn path', { timeout: 20_000 });
  const toldOn = (frame: typeof left) =>
    frame.$eval('[aria-label="Lines"] .pointed', (line) => line.textContent!.trim());
  const plot = (await left.$('[aria-label="Lines"] .rows-plot'))!;
  const { x, y, width } = (await plot.boundingBox())!;
  const pathOf = () => right.$eval('[aria-label="Lines"] .drawn path', (path) => path.getAttribute('d'));
  const before = await pathOf();
  await reader.page.mouse.move(x + width / 3, y + 60);
  await reader.page.mouse.move(x + width / 3 + 4, y + 62);
  await right.waitForFunction(
    () => document.querySelector('[aria-label="Lines"] .pointed')?.textContent?.trim() !== '',
  );
  expect((await toldOn(right)).slice(0, 13)).toBe((await toldOn(left)).slice(0, 13));
  await plot.focus();
  await reader.page.keyboard.press('+');
  await reader.page.keyboard.press('+');
  await right.waitForFunction(
    (was) => document.querySelector('[aria-label="Lines"] .drawn path')!.getAttribute('d') !== was,
    {},
    before,
  );
  // on one scale both have the same figures at their axes
  const figuresOn = (frame: typeof left) =>
    frame.$$eval('[aria-label="Lines"] svg[role=img] > text:not(.time):not(.end)', (all) =>
      all.map((one) => one.textContent),
    );
  expect(await figuresOn(left)).not.toEqual(await figuresOn(right));
  await reader.click('checkbox', 'one scale of values for both');
  await vi.waitFor(async () => expect(await figuresOn(left)).toEqual(await figuresOn(right)), 10_000);
  // what is no page of the book does not stand in a frame
  await reader.open(`/beside?${new URLSearchParams({ left: 'https://example.org/', right: '//example.org' })}`);
  const sources = await reader.page.$$eval('iframe', (all) => all.map((one) => one.getAttribute('src')));
  for (const source of sources) expect(source).toMatch(/^\/(ledger|examine|compare|project|roll)\b/);
});
