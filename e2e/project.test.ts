import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* Project: models carried on from an origin, and held against what came. */

let reader: Reader;

beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

const ask = async (path: string, body: object) => {
  const answer = await fetch(`${reader.origin}/api/${path}`, { method: 'POST', body: JSON.stringify(body) });
  return { status: answer.status, body: await answer.json() };
};
const query = () => new URL(reader.page.url()).searchParams;
const at = (test: () => boolean) => reader.page.waitForFunction(test);
const rowOf = (model: string) =>
  reader.page.$$eval(
    '[aria-label="Forecasts"] tbody tr',
    (rows, name) =>
      rows
        .filter((row) => row.querySelector('code')?.textContent === name)
        .map((row) => [...row.querySelectorAll('td')].map((cell) => cell.textContent!.replace('−', '-')))[0],
    model,
  );
const DAYS = { tape: 'KELP_days', bars: '1 day' };
/** Models of the values; at first those of a series that grows are of its logarithm. */
const OF_VALUES = ['last', 'drift', 'average 20', 'arima(1, 1, 1)'];
const address = (more: Record<string, string>) => `/project?${new URLSearchParams({ ...DAYS, ...more })}`;
const addressOfValues = (more: Record<string, string>) =>
  `${address(more)}&${new URLSearchParams(OF_VALUES.map((model) => ['model', model]))}`;

describe('the account', () => {
  it('has a line for each model, its values and its error against the last value', async () => {
    await reader.open(addressOfValues({ horizon: '20' }));
    await at(() =>
      /better|worse|no verdict|baseline/.test(document.querySelector('[aria-label="Forecasts"]')?.textContent ?? ''),
    );
    await at(() => !document.querySelector('[aria-label="Forecasts"] .computing'));
    const models = OF_VALUES;
    const { body } = await ask('projections', { ...DAYS, models, horizon: 20 });
    const { body: tried } = await ask('accuracy', { ...DAYS, models, horizon: 20 });
    for (const [place, model] of models.entries()) {
      const cells = (await rowOf(model))!;
      expect(cells.slice(0, 3)).toEqual([0, 4, 19].map((h) => body.models[place].value[h].toFixed(2)));
      const against = tried.models[place].ahead[19].against;
      expect(Number(cells[4])).toBeCloseTo(against, 2);
    }
    expect(tried.models[0].ahead[19].against).toBe(1);
  });

  it('takes models that are written, says what is none, and leaves out what is not wanted', async () => {
    const field = await reader.control('combobox', 'Write a model');
    await field.type('trend 60');
    await reader.page.keyboard.press('Enter');
    await reader.sees('trend 60: the straight line through the last 60 rows');
    await field.type('crystal ball');
    await reader.page.keyboard.press('Enter');
    await reader.sees('model must be one of `last`'.replace('one of ', ''));
    await reader.click('button', 'Leave average 20 out');
    await at(
      () =>
        ![...document.querySelectorAll('[aria-label="Forecasts"] code')].some(
          (name) => name.textContent === 'average 20',
        ),
    );
    await reader.click('button', 'undo');
    await at(() =>
      [...document.querySelectorAll('[aria-label="Forecasts"] code')].some((name) => name.textContent === 'average 20'),
    );
  });

  it('has numbers that are turned', async () => {
    await (await reader.control('spinbutton', 'Number of trend 60')).focus();
    await reader.page.keyboard.press('ArrowUp');
    await at(() => new URLSearchParams(location.search).getAll('model').includes('trend 61'));
    await (await reader.control('spinbutton', 'Bars ahead')).focus();
    await reader.page.keyboard.press('ArrowUp');
    await at(() => location.search.includes('horizon=21'));
  });
});

describe('the origin', () => {
  const lines = () => reader.page.$$eval('.chart g > path[stroke]', (all) => all.map((line) => line.getAttribute('d')));

  it('is dragged back: simple models follow at once, and all once it is let go', async () => {
    await reader.open(addressOfValues({ horizon: '20' }));
    await at(() => {
      const lines = [...document.querySelectorAll('.chart g > path[stroke]')].slice(0, 4);
      return lines.length === 4 && lines.every((line) => line.getAttribute('d')!.split('L').length === 21);
    });
    const handle = await reader.control('slider', 'Origin: the last row that is seen');
    const before = await lines();
    const { x, y, height } = (await handle.boundingBox())!;
    await reader.page.mouse.move(x + 6, y + height / 2);
    await reader.page.mouse.down();
    await reader.page.mouse.move(x - 80, y + height / 2, { steps: 4 });
    const during = await lines();
    expect(during[0]).not.toBe(before[0]);
    expect(during[0]!.split('L').length).toBe(21);
    expect(during[3]!.split('L').length).toBe(1); // an arima waits until it is let go
    await reader.page.mouse.up();
    await at(() => location.search.includes('origin='));
    await reader.page.waitForFunction(
      () => document.querySelectorAll('.chart g > path[stroke]')[3].getAttribute('d')!.split('L').length === 21,
    );
    expect((await lines())[0]).toBe(during[0]);
    // what came is drawn beside it, and no model has seen it
    const came = await reader.page.$eval('.chart .came', (line) => line.getAttribute('d')!.split('L').length);
    expect(came).toBe(21);
    const { body } = await ask('projections', {
      ...DAYS,
      models: ['last'],
      horizon: 20,
      origin: query().get('origin'),
    });
    expect(body.origin).toBeLessThan(body.rows - 1);
    expect(body.models[0].value[0]).toBe(body.values[body.origin - body.from]);
  });

  it('is typed, and goes by keys', async () => {
    const field = await reader.control('textbox', 'Last bar that is seen');
    await field.click({ count: 3 });
    await reader.page.keyboard.type('2025-06');
    await reader.page.keyboard.press('Enter');
    await reader.sees('the last value seen is');
    await at(() => /2025-06-30/.test(document.querySelector('[aria-label="The projection"] h2')?.textContent ?? ''));
    await (await reader.control('slider', 'Origin: the last row that is seen')).focus();
    await reader.page.keyboard.press('ArrowLeft');
    await at(() => /2025-06-27/.test(document.querySelector('[aria-label="The projection"] h2')?.textContent ?? ''));
  });
});

describe('the model in focus', () => {
  it('is told with its residuals, its fit and its candidates', async () => {
    await reader.open(`${address({ horizon: '10', focus: '1' })}&model=last&model=arima`);
    await reader.sees('an arima of orders chosen step by step');
    await reader.sees('candidates, the best first');
    await reader.sees('Ljung-Box p');
    await reader.find('[aria-label^="autocorrelation of the residuals"]');
  });

  it('that is an average says from where it stands on its own output', async () => {
    await reader.open(`${address({ horizon: '10' })}&model=average+5`);
    await reader.sees('from 6 bars ahead on none is');
    await at(() => document.querySelector('.chart .made-up') !== null);
  });

  it('reaches a target, or says how much of its fan lies beyond', async () => {
    await reader.open(`${address({ horizon: '30' })}&model=last&model=drift`);
    const { body } = await ask('projections', { ...DAYS, models: ['drift'], horizon: 30 });
    const target = body.models[0].value[9];
    await (await reader.control('spinbutton', 'Target')).type(String(target));
    await reader.page.keyboard.press('Enter');
    await reader.sees('10 bars ahead; 50 of 100 of its fan lie beyond it by then');
    await reader.sees('not within 30 bars');
    // dragged up, it lies farther away
    const grip = await reader.control('slider', 'Target, to be dragged');
    const { x, y, width, height } = (await grip.boundingBox())!;
    await reader.page.mouse.move(x + width / 3, y + height / 2);
    await reader.page.mouse.down();
    await reader.page.mouse.move(x + width / 3, y - 40, { steps: 3 });
    await reader.page.mouse.up();
    await reader.page.waitForFunction(
      (was) => Number(new URLSearchParams(location.search).get('target')) > was,
      {},
      target,
    );
    await grip.evaluate((element) => (element as unknown as SVGElement).focus());
    const far = Number(query().get('target'));
    await reader.page.keyboard.press('ArrowDown');
    await reader.page.waitForFunction(
      (was) => Number(new URLSearchParams(location.search).get('target')) < was,
      {},
      far,
    );
  });

  it('tells its value on a day, or on the first one after it that has a row', async () => {
    await reader.open(`${address({ horizon: '30' })}&model=drift`);
    const { body } = await ask('projections', { ...DAYS, models: ['drift'], horizon: 30 });
    const field = await reader.control('textbox', 'Day of the value');
    await field.type(body.ahead[11].slice(0, 10));
    await reader.page.keyboard.press('Enter');
    await reader.sees('12 bars ahead');
    const told = await reader.page.$eval('[aria-label="Values on that day"]', (list) => list.textContent!);
    expect(told).toContain(body.models[0].value[11].toFixed(2));
    await field.evaluate((element) => (element as HTMLInputElement).select());
    await field.type('2090');
    await reader.page.keyboard.press('Enter');
    await reader.sees('more than 30 bars ahead');
    await field.evaluate((element) => (element as HTMLInputElement).select());
    await field.type('next week');
    await reader.page.keyboard.press('Enter');
    await reader.sees('is no time');
  });
});

it('lags that stand out in Examine go on to a model', async () => {
  await reader.open('/examine?tape=SALT_days&bars=1+day');
  await (await reader.find('::-p-xpath(//a[contains(., "Project with")])')).click();
  await at(() => location.pathname === '/project' && /model=arima/.test(location.search));
  await reader.sees('back');
});

it('pictures and rows leave as files', async () => {
  await reader.open(addressOfValues({ horizon: '5' }));
  await at(() => / origins, each /.test(document.body.innerText));
  await reader.page.evaluate(() => {
    const made: string[] = [];
    Object.assign(window, { made });
    const old = URL.createObjectURL.bind(URL);
    URL.createObjectURL = (blob: Blob) => {
      made.push(blob.type);
      return old(blob);
    };
  });
  await reader.click('button', 'export');
  for (const [button, type, count] of [
    ['the bars ahead', 'text/csv', 1],
    ['SVG', 'image/svg+xml', 4],
    ['PNG', 'image/png', 4],
  ] as const) {
    await reader.click('button', button);
    await reader.page.waitForFunction(
      (wanted, many) => (window as unknown as { made: string[] }).made.filter((one) => one === wanted).length >= many,
      {},
      type,
      count - 1,
    );
  }
});

it('a page is kept, and found among those of its kind alone', async () => {
  await reader.open(addressOfValues({ horizon: '5' }));
  await reader.click('button', 'save');
  await reader.click('button', 'Save');
  await at(() => location.search.includes('kept='));
  await reader.click('button', 'saved');
  await reader.sees('Saved projections');
  await at(() => document.querySelectorAll('[aria-label="Saved projections"] li').length === 1);
});

it('three observations are enough, and numbered periods', async () => {
  const body = 'period,orders\n1,1000\n2,1200\n3,1100\n';
  expect((await fetch(`${reader.origin}/api/tapes?name=ORDERS_ahead`, { method: 'POST', body })).status).toBe(201);
  const models = ['last', 'mean', 'trend', 'growth 2', 'arima(1, 0, 0)'];
  const { body: told } = await ask('projections', { tape: 'ORDERS_ahead', bars: '1 day', models, horizon: 2 });
  expect(told.models.slice(0, 4).map(({ value }: { value: number[] }) => Math.round(10 * value[0]) / 10)).toEqual([
    1100, 1100, 1200, 1153.7,
  ]);
  expect(told.models[4].refused).toMatch(/arima needs 5 values/);
  await reader.open(
    `/project?tape=ORDERS_ahead&bars=1+day&horizon=2${models.map((model) => `&model=${encodeURIComponent(model)}`).join('')}`,
  );
  await reader.sees('arima needs 5 values after differencing, there are 3');
});

it.each([
  ['projections', { ...DAYS, models: ['oracle'] }, 400, /model must be/],
  ['projections', { ...DAYS, models: [] }, 400, /models/],
  ['projections', { ...DAYS, models: ['last'], origin: '1999-01-01T00:00:00Z' }, 400, /no value up to then/],
  ['projections', { ...DAYS, models: ['last'], horizon: 1001 }, 400, /1000/],
  ['projections', { ...DAYS, models: ['last'], entry: 'mean(close, [3, 5] bars)' }, 422, /a fan of 2 lines/],
  ['accuracy', { ...DAYS, models: ['last'], first: 1e6 }, 400, /first must be/],
  ['accuracy', { tape: '__proto__', bars: '1 day', models: ['last'] }, 400, /must start with a letter/],
])('%s %j is refused', async (path, body, status, detail) => {
  const answer = await ask(path, body);
  expect([answer.status, JSON.stringify(answer.body)]).toEqual([status, expect.stringMatching(detail)]);
});

it('a model is kept as an entry of a ledger, whose line goes on over the days to come', async () => {
  await reader.open(`${address({ horizon: '12' })}&model=drift`);
  await reader.click('link', 'Write it into the ledger');
  await reader.find('::-p-aria(Entry my_projection)');
  await reader.sees('projection');
  const { body } = await ask('projections', { ...DAYS, models: ['drift'], horizon: 12 });
  await reader.click('button', 'rows');
  await (
    await reader.find('table[aria-rowcount]')
  ).evaluate((table) => {
    table.closest('[role="region"]')!.scrollTop = 1e9;
  });
  const [day, month] = [8, 5].map((from) => Number(body.ahead[11].slice(from, from + 2)));
  await reader.sees(`${day} ${['Apr', 'May', 'Jun'][month - 4]} 2026`);
  const entries = ['p = projection(close, "drift", 12)', 'm = mean(close, 5 bars)'];
  const { body: rows } = await ask('columns', { ...DAYS, entries, from: body.ahead[0] });
  expect(rows.columns.time).toEqual(body.ahead);
  expect(rows.columns.p).toEqual(body.models[0].value);
  expect(rows.looksAhead).toContain('p');
  expect(rows.columns.close).toEqual(body.ahead.map(() => null));
  const refused = await ask('columns', { ...DAYS, entries: [entries[0], 'q = mean(p, 3 bars)'] });
  expect([refused.status, refused.body.detail]).toEqual([422, expect.stringContaining('is a projection')]);
});

it('backtests each model by itself: one that fails or is stopped leaves the others their errors', async () => {
  const slow = 'arima(0, 1, 13)';
  await reader.open(
    `${address({ tape: 'KELP', bars: '5 minutes', horizon: '20' })}&model=drift&model=${encodeURIComponent(slow)}`,
  );
  const errors = () =>
    reader.page.$$eval('[aria-label="Forecasts"] .scrolls tbody tr', (rows) =>
      rows.map((row) => row.querySelector('td:last-child')?.textContent?.trim() ?? ''),
    );
  await reader.click('button', `Stop the backtest of ${slow}`);
  await reader.control('button', `Backtest ${slow}`);
  await reader.page.waitForFunction(() =>
    /\d/.test(document.querySelector('[aria-label="Forecasts"] tbody td:last-child')?.textContent ?? ''),
  );
  expect(await errors()).toEqual([expect.stringMatching(/^\d/), 'backtest']);
  await reader.click('button', `Backtest ${slow}`);
  await reader.page.waitForFunction(
    () =>
      !/computing|%|backtest/.test(
        document.querySelector('[aria-label="Forecasts"] .scrolls tbody')?.textContent ?? '',
      ),
  );
  expect(await errors()).toEqual([expect.stringMatching(/^\d/), expect.stringMatching(/^\d/)]);
});

it('is taken as a share of a driver: all combinations, over the half in the middle', async () => {
  await reader.open('/records');
  const text = ['period,item,driver', '1,1000,5000', '2,1200,6000', '3,1100,5500'].join('\n');
  const entered = await fetch(`${reader.origin}/api/tapes?name=SHARED&kind=series`, { method: 'POST', body: text });
  expect(entered.status).toBe(201);
  const models = ['last', 'mean', 'trend', 'growth 2'];
  const question = { tape: 'SHARED_item', bars: '1 day', models, horizon: 1 };
  const { status, body } = await ask('projections', { ...question, driver: 'SHARED_driver.close' });
  expect([status, body.detail]).toEqual([200, undefined]);
  expect(body.shares.outcomes.slice(0, 4).map((one: { value: number }) => Math.round(10 * one.value) / 10)).toEqual([
    1100, 1100, 1200, 1153.7,
  ]);
  expect(body.shares.outcomes.length).toBe(20);
  await reader.open(
    `/project?tape=SHARED_item&bars=1+day&horizon=1&${models.map((model) => `model=${model}`).join('&')}`,
  );
  await (await reader.control('textbox', 'Driver')).type('SHARED_driver.close');
  await reader.page.keyboard.press('Enter');
  await reader.sees('Half of the 20 outcomes lie between');
  await reader.sees('equal to another');
  await reader.sees('3 rows have both');
  await reader.page.locator('summary ::-p-text(16 products of share and driver)').click();
  const products = await reader.page.$$eval('[aria-label="All models"] tbody tr', (rows) =>
    rows.map((row) =>
      [...row.querySelectorAll('.figure')].map(({ textContent }) => Number(textContent!.replaceAll(',', ''))),
    ),
  );
  expect(products).toHaveLength(16);
  for (const [share, driver, value] of products) expect(share * driver).toBeCloseTo(value, -1);
  expect(query().get('driver')).toBe('SHARED_driver.close');
});
