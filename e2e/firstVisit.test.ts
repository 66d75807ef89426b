import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Reader } from './reader';

/* Someone with a file of one kind or another, who types no setting: the pages are about the right series, and right about it. */

let reader: Reader;
beforeAll(async () => {
  reader = await Reader.arrive();
});
afterAll(() => reader.leave());

/** Draws of a normal variable, the same in each run. */
function draws(count: number, seed: number): number[] {
  let state = seed;
  const unit = () => (state = (state * 16807) % 2147483647) / 2147483647;
  return Array.from({ length: count }, () => Math.sqrt(-2 * Math.log(unit())) * Math.cos(2 * Math.PI * unit()));
}
const date = (day: number) => new Date(Date.UTC(2024, 0, 1 + day)).toISOString().slice(0, 10);
const table = (head: string, rows: readonly (readonly (string | number)[])[]) =>
  [head, ...rows.map((row) => row.join(','))].join('\n');

function prices(): string {
  let price = 100;
  const rows = draws(520, 11).map((draw, at) => {
    price *= Math.exp(draw / 100);
    return [date(7 * Math.floor(at / 5) + (at % 5)), price.toFixed(2)];
  });
  return table('date,close', rows);
}
function counts(): string {
  const noise = draws(240, 12);
  const rows = noise.map((draw, month) => [
    `${2004 + Math.floor(month / 12)}-${String(1 + (month % 12)).padStart(2, '0')}`,
    Math.round(300 + 120 * Math.sin((month / 6) * Math.PI) + 20 * draw),
  ]);
  return table('month,visitors', rows);
}
function orders(): string {
  const noise = draws(900, 13);
  const rows = noise.map((draw, at) => [
    date(Math.floor(at / 4)),
    `A${1000 + at}`,
    ['North', 'South', 'West'][at % 3],
    (40 + 60 * draw).toFixed(2),
  ]);
  return table('date,order_id,region,amount', rows);
}
function temperatures(): string {
  const noise = draws(24 * 60, 14);
  const rows = noise.map((draw, hour) => [
    `${date(Math.floor(hour / 24))} ${String(hour % 24).padStart(2, '0')}:00`,
    (2 + 6 * Math.sin((hour / 12) * Math.PI) + 0.5 * draw).toFixed(1),
  ]);
  return table('time,air_c', rows);
}
function regions(): string {
  const common = draws(160, 15);
  const own = draws(160, 16);
  const rows = common.map((draw, at) => [
    date(7 * at),
    Math.round(500 + 80 * draw),
    Math.round(300 + 60 * draw + 10 * own[at]),
    Math.round(200 + 40 * own[at]),
  ]);
  return table('week,north,south,west', rows);
}

const fieldOf = (label: string) =>
  reader.page.$eval(`[aria-label="${label}"]`, (field) => (field as HTMLInputElement).value);

async function entered(file: string, content: string, says: string): Promise<void> {
  await reader.open('/records');
  await reader.drop(file, content);
  await reader.click('button', 'Import');
  await reader.sees(says);
}

describe.each([
  ['a daily price file', 'lamp.csv', prices, 'LAMP', 'close', '1 day', /Is it a random walk\? It may well be/],
  ['a monthly count', 'visitors.csv', counts, 'VISITORS', 'visitors', '1 month', /\b12\b rows/],
  ['an order list', 'orders.csv', orders, 'ORDERS', 'amount', '1 day', /Is it stationary\? Yes/],
  ['hourly temperatures', 'air.csv', temperatures, 'AIR', 'air_c', '1 hour', /\b24\b rows/],
] as const)('%s', (_, file, content, stem, column, bars, verdict) => {
  const name = `${stem}_SEEN`;

  it('is imported and charted, and Examine and Project are about its column', async () => {
    await entered(file.replace('.', '_seen.'), content(), `${name} was imported`);
    await reader.click('link', 'open its ledger');
    await reader.find('::-p-aria(Price lane)');
    await reader.click('link', 'Examine');
    await reader.page.waitForFunction(() => document.querySelector('.verdicts h2')?.textContent === 'Verdicts');
    const asked = await Promise.all(['What is examined', 'Tape', 'Bar rule'].map(fieldOf));
    expect(asked.slice(0, 2)).toEqual([column, name]);
    expect(asked[2]).toMatch(new RegExp(`^${bars}`));
    await reader.page.waitForFunction(
      (source) => new RegExp(source).test(document.querySelector('main')!.innerText.replaceAll(/\s+/g, ' ')),
      {},
      verdict.source,
    );
    await reader.click('link', 'Project');
    await reader.sees(`${column}; the last value seen is`);
    await reader.page.waitForFunction(
      () => !/missing|refused/i.test(document.querySelector('main table')!.textContent),
    );
  });
});

it('a count with a season is offered models of that season, the kind chosen first', async () => {
  await reader.open('/project?tape=VISITORS_SEEN');
  await reader.sees('A cycle of 12 bars stands out');
  await reader.click('button', 'smooth season 12');
  await reader.sees('exponential smoothing, its kind chosen by AICc');
  await reader.sees('autocorrelation of the residuals');
  const error = await reader.page.waitForFunction(() => {
    const rows = [...document.querySelectorAll('main tbody tr')];
    const own = rows.find((row) => row.querySelector('code')?.textContent === 'smooth season 12');
    const text = own?.lastElementChild!.textContent.trim() ?? '';
    return /^\d*\.\d+$/.test(text) && text;
  });
  expect(Number(await error.jsonValue())).toBeLessThan(0.5); // of that of the last value
});

it('a lag that stands out of the residuals is added to the model in one press', async () => {
  await reader.open('/project?tape=VISITORS_SEEN&model=last&model=arima(1,+0,+0)&focus=1');
  await reader.find('::-p-aria([name="Residuals"][role="region"])');
  for (const plot of ['partial autocorrelation of the residuals', 'Residuals over time', 'Values in order'])
    await reader.find(`[aria-label^="${plot}"]`);
  const offers = await reader.page.$$eval('[aria-label="Residuals"] button', (buttons) =>
    buttons.map(({ textContent }) => textContent!.trim()).filter((text) => text.startsWith('lag ')),
  );
  await reader.click('button', offers[0]);
  const lag = Number(offers[0].slice(4));
  await reader.page.waitForFunction(
    (text) => [...document.querySelectorAll('main th code')].some((code) => code.textContent === text),
    {},
    lag === 2 ? 'arima(2, 0, 0)' : `arima(${lag}, 0, 0) lags 1 ${lag}`,
  );
});

describe('a table of regions', () => {
  it('makes a tape of each, which Compare puts side by side', async () => {
    await entered('regions_seen.csv', regions(), '3 tapes were imported');
    await reader.open('/ledger?tape=REGIONS_SEEN_north');
    await reader.find('::-p-aria(Price lane)');
    await reader.click('link', 'Compare');
    const pair = await reader.page.waitForSelector('button[aria-label^="REGIONS_SEEN_north with REGIONS_SEEN_south"]');
    const label = await pair!.evaluate((button) => button.ariaLabel!);
    expect(Number(/[\d.]+$/.exec(label)![0])).toBeGreaterThan(0.9);
    const names = await reader.page.$$eval('[aria-label="Lines"] li .name', (all) => all.map((one) => one.textContent));
    for (const region of ['north', 'south', 'west']) expect(names.join(' ')).toContain(`REGIONS_SEEN_${region}`);
  });
});
