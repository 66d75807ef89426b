import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* Data that are no prices: values are called what their file calls them, and each page opens on what is in view. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
  await enter('E2E_RAIN', 'month,rainfall_mm', months);
  await enter('E2E_TONS', 'month,landings_t', months);
  await enter('E2E_DAILY', 'date,orders', days);
});
afterAll(() => reader.leave());

const VALUES = 240;
const value = (row: number) => Math.round(80 + 40 * Math.sin((row / 6) * Math.PI) + 20 * Math.sin(row * row));
const months = (row: number) => `${1990 + Math.floor(row / 12)}-${String(1 + (row % 12)).padStart(2, '0')}`;
const days = (row: number) => new Date(Date.UTC(2025, 0, 1 + row)).toISOString().slice(0, 10);

async function enter(name: string, head: string, time: (row: number) => string): Promise<void> {
  const lines = Array.from({ length: VALUES }, (_, row) => `${time(row)},${value(row)}`);
  const sent = await fetch(`${reader.origin}/api/tapes?name=${name}&zone=UTC`, {
    method: 'POST',
    body: `${head}\n${lines.join('\n')}\n`,
  });
  expect(sent.status).toBe(201);
}
const fieldOf = (label: string) =>
  reader.page.$eval(`[aria-label="${label}"]`, (field) => (field as HTMLInputElement).value);

it.each([
  ['all', null],
  ['price', null],
  ['__proto__', 'proto'],
  ['Niederschlag (mm)', 'Niederschlag_mm'],
  ['mean', 'mean'],
])('values that the file calls %s are %s in formulas', async (head, name) => {
  const at = `${reader.origin}/api/tapes/E2E_NAMED`;
  await enter('E2E_NAMED', `month,${head}`, months);
  try {
    expect(((await (await fetch(at)).json()) as { valueName: string | null }).valueName).toBe(name);
    const entries = [`a = ${name ?? 'close'} + 0`];
    const body = JSON.stringify({ tape: 'E2E_NAMED', bars: '1 month', entries });
    const answer = await fetch(`${reader.origin}/api/columns`, { method: 'POST', body });
    const { columns } = (await answer.json()) as { columns: Record<string, number[]> };
    expect(columns.a[1]).toBe(value(1));
    const page = await fetch(`${reader.origin}/api/examinations`, {
      method: 'POST',
      body: JSON.stringify({ tape: 'E2E_NAMED', bars: '1 month', entry: name ?? 'close', shuffles: 0 }),
    });
    expect(page.status).toBe(200);
  } finally {
    await fetch(at, { method: 'DELETE' });
  }
});

it('an order list is read without a setting: amounts of either sign, by the day, with words to group by', async () => {
  const regions = ['North', 'South'];
  const lines = Array.from(
    { length: 240 },
    (_, row) => `${days(row / 3)},A${row},${regions[row % 2]},${value(row) - 70}`,
  );
  const sent = await fetch(`${reader.origin}/api/tapes?name=E2E_ORDERS`, {
    method: 'POST',
    body: `date,order_id,region,amount\n${lines.join('\n')}\n`,
  });
  const tape = (await sent.json()) as { valueName: string; rows: number; texts: { name: string; words: number }[] };
  expect(tape).toMatchObject({ valueName: 'amount', rows: 240, texts: [{ name: 'region', words: 2 }] });
  const columnsOf = async (bars: string, entries: string[]) => {
    const body = JSON.stringify({ tape: 'E2E_ORDERS', bars, entries });
    const answer = await fetch(`${reader.origin}/api/columns`, { method: 'POST', body });
    return ((await answer.json()) as { columns: Record<string, (number | null)[]> }).columns;
  };
  const north = await columnsOf('1 trades', [
    'a = where(region == "North", amount)',
    'n = last(amount, 1 bars, each: region)',
  ]);
  expect(north.a.slice(0, 3)).toEqual([value(0) - 70, null, value(2) - 70]);
  expect(north.n.slice(0, 3)).toEqual([0, 1, 2].map((row) => value(row) - 70));
  // several orders a day: their sum, which the heading says, and not silently the last
  await reader.openLedger('E2E_ORDERS');
  await reader.sees('the sum of its values');
  await reader.sees('amount');
  const daily = await columnsOf('1 day, take: sum', ['a = amount']);
  expect(daily.a[0]).toBe([0, 1, 2].reduce((sum, row) => sum + value(row) - 70, 0));
});

it('dates with several values add up, whichever file brings them, unless something else is chosen', async () => {
  const send = async (path: string, lines: string[]) => {
    const sent = await fetch(`${reader.origin}/api/tapes${path}`, { method: 'POST', body: lines.join('\n') });
    expect(sent.ok).toBe(true);
    return ((await sent.json()) as { sharedTimes: string | null }).sharedTimes;
  };
  const [head, once, again] = ['date,calls', days(0), days(1)];
  const twice = [head, `${again},1`, `${again},2`];
  expect(await send('?name=E2E_CALLS', [head, `${once},3`, `${days(2)},4`])).toBeNull();
  expect(await send('/E2E_CALLS/append', twice)).toBe('sum');
  expect(await send('?name=E2E_MEANS&sharedTimes=mean', twice)).toBe('mean');
  // so they do where others are repeated exactly, more often
  expect(await send('?name=E2E_MIXED', [...twice, `${again},1`, `${again},1`, `${again},2`])).toBe('sum');
  // a repeat of a row is no second value, and trades share times as a matter of course
  expect(await send('?name=E2E_TWICE', [head, `${once},3`, `${once},3`, `${again},4`])).toBeNull();
  expect(await send('?name=E2E_LOTS&sharedTimes=sum', ['time,price,size', `${once}T09:00:00Z,3,1`])).toBeNull();
  const patched = await fetch(`${reader.origin}/api/tapes/E2E_LOTS`, {
    ...{ method: 'PATCH', headers: { 'content-type': 'application/json' }, body: '{"sharedTimes":"sum"}' },
  });
  expect([patched.status, ((await patched.json()) as { detail: string }).detail]).toEqual([
    400,
    expect.stringContaining('E2E_LOTS holds trades'),
  ]);
});

it('an import asks what a bar is where rows share a time, and rows are filtered by a word', async () => {
  const lines = Array.from(
    { length: 120 },
    (_, row) =>
      `2026-03-${String(2 + Math.floor(row / 6)).padStart(2, '0')} 09:0${row % 3},${value(row)},${'NSE'[row % 3]}`,
  );
  await reader.open('/records');
  await reader.drop('gauges.csv', `when,level,pier\n${lines.join('\n')}\n`);
  await reader.sees('60 of the 120 rows in the sample share their time with an earlier row');
  const choice = await reader.find('::-p-aria(What bars show where rows share a time)');
  expect(await choice.evaluate((node) => (node as HTMLSelectElement).value)).toBe('last');
  await choice.select('record');
  await reader.click('button', 'Import');
  await reader.sees('GAUGES was imported');
  await reader.click('link', 'open its ledger');
  await reader.find('::-p-aria(Price lane)');
  expect(await (await fetch(`${reader.origin}/api/tapes/GAUGES`)).json()).toMatchObject({ sharedTimes: 'record' });
  await reader.page.keyboard.press('r');
  await (await reader.find('::-p-aria(Column to filter by)')).select('pier');
  await (await reader.find('::-p-aria(Word to filter by)')).select('S');
  await reader.sees('40 rows');
  const levels = await reader.page.$$eval('[aria-label="Figures of the bars"] tbody tr td:nth-child(2)', (cells) =>
    cells.map((cell) => Number(cell.textContent)),
  );
  expect(levels.slice(0, 3)).toEqual([value(1), value(4), value(7)]);
});

describe('a monthly count', () => {
  it('has the name of its column in the margin, the rows and formulas', async () => {
    await reader.openLedger('E2E_RAIN');
    await reader.sees('rainfall_mm');
    await reader.write('yearly = mean(rainfall_mm, 12 bars)');
    await reader.find('::-p-aria(Entry yearly)');
    await reader.saved();
    const body = JSON.stringify({
      ...{ tape: 'E2E_RAIN', bars: '1 month' },
      entries: ['a = rainfall_mm', 'b = value', 'c = E2E_TONS.landings_t'],
    });
    const answer = await fetch(`${reader.origin}/api/columns`, { method: 'POST', body });
    const { columns } = (await answer.json()) as { columns: Record<string, number[]> };
    const wanted = Array.from({ length: VALUES }, (_, row) => value(row));
    expect([columns.a, columns.b, columns.c]).toEqual([wanted, wanted, wanted]);
  });

  it('is what Examine, Project and Compare open on, also from a first look and after a reload', async () => {
    await reader.openLedger('E2E_DAILY'); // saved later than any other
    await reader.write('soft = mean(orders, 7 bars)');
    await reader.find('::-p-aria(Entry soft)');
    await reader.saved();
    await reader.openLedger('E2E_TONS');
    await reader.click('link', 'Examine');
    await reader.sees('How many differences');
    expect(await Promise.all(['What is examined', 'Tape', 'Bar rule'].map(fieldOf))).toEqual([
      'landings_t',
      'E2E_TONS',
      '1 month',
    ]);
    await reader.sees('Changes are log returns');
    await reader.click('button', 'Use differences');
    await reader.sees('of its changes');
    await reader.page.reload();
    await reader.find('html[data-paper]');
    await reader.click('link', 'Project');
    await reader.find('::-p-aria(What is projected)');
    expect(await Promise.all(['What is projected', 'Tape'].map(fieldOf))).toEqual(['landings_t', 'E2E_TONS']);
    await reader.sees('arima(1, 1, 1) of log');
    await reader.click('link', 'Compare');
    await reader.find('::-p-aria(Members)');
    // months with months: not with days of other years
    expect(await fieldOf('Members')).toMatch(/^E2E_TONS(?!.*E2E_DAILY).*E2E_RAIN/);
    await reader.find('select[aria-label="Average of the group"]');
    expect(await fieldOf('Average of the group')).toBe('held');
  });

  it('is left alone by the tabs once it is gone, and its ledger is come back to', async () => {
    await enter('E2E_GONE', 'month,landings_t', months);
    const lanes = [{ id: 'p', base: 'price', weight: 1, entries: [] }];
    const ledger = async (title: string) => {
      const body = { tape: 'E2E_GONE', rule: '1 month', view: null, lanes };
      const made = await fetch(`${reader.origin}/api/ledgers`, {
        method: 'POST',
        body: JSON.stringify({ title, body }),
      });
      return ((await made.json()) as { id: number }).id;
    };
    const older = await ledger('Older');
    await ledger('Newer');
    await reader.open(`/ledger/${older}`);
    await reader.find('::-p-aria(Price lane)');
    await reader.click('link', 'Examine');
    await reader.sees('How many differences');
    await reader.click('link', 'Ledger');
    await reader.page.waitForFunction((id) => location.pathname === `/ledger/${id}`, {}, older);
    await fetch(`${reader.origin}/api/tapes/E2E_GONE`, { method: 'DELETE' });
    await reader.click('link', 'Examine');
    await reader.sees('There is no such page.');
    await reader.click('link', 'Examine');
    await reader.sees('How many differences');
  });

  it('takes its own bars where another tape is chosen', async () => {
    await reader.open('/examine?tape=E2E_RAIN&bars=1+month');
    await reader.page.select('select[aria-label="Tape"]', 'E2E_DAILY');
    await reader.page.waitForFunction(() => location.search.includes('E2E_DAILY'));
    expect(await fieldOf('Bar rule')).toBe('1 day');
  });

  it('never is said to go below zero', async () => {
    const body = JSON.stringify({ tape: 'E2E_RAIN', bars: '1 month', models: ['last', 'drift'], horizon: 60 });
    const answer = await fetch(`${reader.origin}/api/projections`, { method: 'POST', body });
    const { models } = (await answer.json()) as { models: { low95: number[] }[] };
    for (const { low95 } of models) expect(Math.min(...low95)).toBe(0);
  });

  it('is charted and forecast in words of the trade', async () => {
    await reader.openLedger('E2E_TONS');
    await reader.click('combobox', 'New entry');
    await reader.sees('exponential moving average');
    await reader.write('3 month average');
    const line = () => reader.page.$eval('input[aria-label="New entry"]', (field) => field.value);
    expect(await line()).toBe('average = mean(landings_t, 3 bars)');
    await reader.page.keyboard.press('Enter');
    await reader.find('::-p-aria(Entry average)');
    // the bracket that a completion puts is typed over
    await reader.page.keyboard.type('top = max');
    await reader.page.keyboard.press('Tab');
    await reader.page.keyboard.type('landings_t, 12 bars)');
    expect(await line()).toBe('top = max(landings_t, 12 bars)');
    await reader.open('/project?tape=E2E_TONS&bars=1+month');
    await reader.click('combobox', 'Write a model');
    await reader.sees('The growth rate over the last 12 bars');
    await reader.page.keyboard.type('cagr');
    await reader.page.keyboard.press('Tab');
    await reader.page.keyboard.press('Enter');
    await reader.find('::-p-aria(Leave growth 12 out)');
  });

  it('is shown as a whole again where it was left so', async () => {
    await reader.openLedger('E2E_RAIN');
    await reader.click('button', 'show all');
    await reader.saved();
    expect(await fieldOf('First bar shown')).toBe('1990-01');
    await reader.openLedger('E2E_RAIN');
    await reader.sees('240 bars');
    expect(await fieldOf('First bar shown')).toBe('1990-01');
  });
});
