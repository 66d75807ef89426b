import {
  ArgumentError,
  BAR_FIELDS,
  buildBars,
  evaluate,
  makeCalendar,
  parseBarRule,
  type Bars,
  type Quotes,
  type Ticks,
} from '@jaunty-ledger/core';
import { beforeAll, describe, expect, it } from 'vitest';
import { barRecords, reckoned } from '../app/src/lib/plots/barReckoning';
import { origin } from './ownServer';

/*
 * Bars of every kind from records of every kind, as the server cuts them from its store a chunk after the other, are those
 * that the core cuts from all records at once.
 */

const OPTIONS = { zone: 'Atlantic/Faroe', session: '08:30-16:30' };
const calendar = makeCalendar(OPTIONS);
/** More than one chunk of the store. */
const ROWS = 70_000;

/** Steps of a plain congruence: the same file each time. */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state * 1_103_515_245 + 12_345) % 2 ** 31;
    return Math.floor((state / 2 ** 31) * below);
  };
}

const next = numbers(20_260_202);
const time = new Float64Array(ROWS);
const price = new Float64Array(ROWS);
const size = new Float64Array(ROWS);
let [at, cents] = [Date.parse('2026-02-02T08:30:00Z') * 1000, 8420];
for (let row = 0; row < ROWS; row++) {
  time[row] = at += next(4000) * 1000;
  price[row] = (cents += next(5) - 2) / 100;
  // stretches in which every trade has the same size
  size[row] = Math.floor(row / 3000) % 2 === 0 ? 1 : 1 + next(90);
}
const asked = price.map((bid) => Math.round(bid * 100 + next(4)) / 100);
const ticks: Ticks = { time, price, size };
const sides = Int8Array.from(time, () => 1 - 2 * next(2));
const minutes = buildBars(ticks, parseBarRule('1 minute'), calendar);

const SOURCES: Record<string, { source: Ticks | Quotes | Bars; columns: Record<string, Float64Array | string[]> }> = {
  TRADES: { source: ticks, columns: { price, size } },
  SIDED: {
    source: { ...ticks, side: sides },
    columns: { price, size, side: Array.from(sides, (side) => (side > 0 ? 'buy' : 'sell')) },
  },
  PRICES: { source: { time, price }, columns: { price } },
  QUOTES: { source: { time, bid: price, ask: asked }, columns: { bid: price, ask: asked } },
  MINUTES: {
    source: minutes,
    columns: {
      open: minutes.open,
      high: minutes.high,
      low: minutes.low,
      close: minutes.close,
      volume: minutes.volume,
      value: minutes.value,
      trades: minutes.trades,
    },
  },
};
const RULES = [
  '1 minute',
  '15 minutes, empty: carry',
  '2 hours, all hours',
  '1 day',
  '1 week',
  '500 trades',
  '300 trades, restart: day',
  '2000 units',
  '400000 value',
  'range 0.5',
  '10 minutes, side: buy',
  '10 minutes, take: mean',
  '10 minutes, price: ask',
];

const iso = (instant: number) => new Date(instant / 1000).toISOString();

beforeAll(async () => {
  for (const [name, { source, columns }] of Object.entries(SOURCES)) {
    const lines = Array.from(source.time, (instant, row) =>
      [iso(instant), ...Object.values(columns).map((column) => column[row])].join(','),
    );
    const body = `time,${Object.keys(columns).join(',')}\n${lines.join('\n')}\n`;
    const query = new URLSearchParams({
      name: `BARS_${name}`,
      ...OPTIONS,
      ...(name === 'MINUTES' && { interval: '1 minute' }),
    });
    const answer = await fetch(`${origin}/api/tapes?${query}`, { method: 'POST', body });
    expect(answer.status, await answer.text()).toBe(201);
  }
});

interface Answer {
  detail?: string;
  leftOut: number;
  columns: Record<string, (number | string | null)[]>;
}

async function ask(path: string, query: Record<string, string>): Promise<{ status: number; body: Answer }> {
  const answer = await fetch(`${origin}${path}?${new URLSearchParams(query)}`);
  return { status: answer.status, body: (await answer.json()) as Answer };
}

/** Values as JSON has them. */
const plain = (column: Float64Array) => Array.from(column, (x) => (Number.isNaN(x) ? null : x));

describe.each(Object.entries(SOURCES))('%s', (name, { source }) => {
  it.each(RULES)('%s', async (text) => {
    const { status, body } = await ask(`/api/tapes/BARS_${name}/bars`, { rule: text });
    let wanted: ReturnType<typeof buildBars>;
    try {
      wanted = buildBars(source, parseBarRule(text), calendar);
    } catch (error) {
      expect(status).toBe(400);
      expect(body.detail).toContain((error as Error).message.slice(1)); // sentences begin with a capital
      return;
    }
    expect(status, body.detail).toBe(200);
    expect(body.leftOut).toBe(wanted.leftOut);
    expect(body.columns.complete).toEqual(Array.from(wanted.complete));
    for (const field of BAR_FIELDS) {
      const got = body.columns[field];
      if (field === 'time' || field === 'end')
        expect(got.map((x) => Date.parse(String(x)))).toEqual(Array.from(wanted[field], (x) => x / 1000));
      else expect(got, field).toEqual(plain(wanted[field]));
    }
  });
});

describe.each(Object.entries(SOURCES))('the working of bars of %s', (name, { source }) => {
  it.each(RULES)('%s: each figure comes out of the records of the bar', async (text) => {
    const rule = parseBarRule(text);
    const kind = name === 'MINUTES' ? 'bars' : name === 'QUOTES' ? 'quotes' : 'ticks';
    let bars: ReturnType<typeof buildBars>;
    try {
      bars = buildBars(source, rule, calendar);
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      return; // refused, as above
    }
    const last = bars.time.length - 1;
    for (const row of new Set([0, 1, 2, last >> 1, last - 1, last].filter((one) => one >= 0 && one <= last))) {
      const query = { rule: text, bar: String(row), limit: '100000' };
      const { status, body } = await ask(`/api/tapes/BARS_${name}/records`, query);
      expect(status, body.detail).toBe(200);
      const page = { offset: 0, more: false, columns: body.columns };
      const figures = reckoned(kind, rule, barRecords(kind, rule, page), page);
      for (const { of, value } of figures) {
        const stored = bars[of][row];
        const isEmpty = bars.trades[row] === 0; // a carried bar has prices, and no record that shows them
        if (isEmpty || Number.isNaN(stored))
          expect(isEmpty ? body.columns.time : value, of).toEqual(isEmpty ? [] : NaN);
        else expect(value / stored || 1, `${of} of bar ${row}`).toBeCloseTo(1, 12);
      }
    }
  });

  it('there is none of a bar that is not there', async () => {
    const { status, body } = await ask(`/api/tapes/BARS_${name}/records`, { rule: '1 day', bar: '999' });
    expect([status, body.detail]).toEqual([400, expect.stringMatching(/There are \d+ bars/)]);
  });
});

it('the records of a bar are those without a flag, where the bars are of such', async () => {
  const rows = ['08:30:00,1,1', '08:30:01,2,1', '08:30:01,2,1', '08:30:02,3,1', '08:30:03,4,1'];
  const body = `time,price,size\n${rows.map((row) => `2026-02-02T${row.replace(',', 'Z,')}`).join('\n')}\n`;
  await fetch(`${origin}/api/tapes?name=BARS_FLAGS&zone=UTC`, { method: 'POST', body });
  const of = async (query: Record<string, string>) =>
    (await ask('/api/tapes/BARS_FLAGS/records', { rule: '2 trades', ...query })).body.columns.price;
  expect([await of({ bar: '0' }), await of({ bar: '1' })]).toEqual([
    [1, 2],
    [2, 3],
  ]);
  expect([await of({ bar: '0', flagged: 'no' }), await of({ bar: '1', flagged: 'no' })]).toEqual([
    [1, 2],
    [3, 4],
  ]);
});

describe('a stretch', () => {
  const from = '2026-02-03T10:17:00Z';
  const to = '2026-02-04T09:00:00Z';
  const isWithin = (instant: number) => instant >= Date.parse(from) * 1000 && instant < Date.parse(to) * 1000;

  it.each(RULES.slice(0, 10))('of bars by `%s` is cut from those of the whole tape', async (rule) => {
    const { body } = await ask('/api/tapes/BARS_TRADES/bars', { rule, from, to });
    const whole = buildBars(ticks, parseBarRule(rule), calendar);
    const rows = Array.from(whole.time.keys()).filter((row) => isWithin(whole.time[row]));
    for (const field of ['open', 'high', 'low', 'close', 'volume', 'value', 'trades'] as const)
      expect(body.columns[field], field).toEqual(plain(whole[field]).filter((_, row) => rows.includes(row)));
    expect(body.columns.complete).toEqual(rows.map((row) => whole.complete[row]));
  });

  it('of records comes by time and page by page, and is all of them', async () => {
    const inside = Array.from(time.keys()).filter((row) => isWithin(time[row]));
    const { body } = await ask('/api/tapes/BARS_TRADES/records', { from, to, limit: '100000' });
    expect(body.columns.price).toEqual(inside.map((row) => price[row]));
    const prices: unknown[] = [];
    for (let offset = 60_000; offset < ROWS; offset += 3000) {
      const page = await ask('/api/tapes/BARS_TRADES/records', { offset: String(offset), limit: '3000' });
      prices.push(...page.body.columns.price);
    }
    expect(prices).toEqual(Array.from(price.slice(60_000)));
  });
});

it('formulas are worked out on the bars as the core works them out', async () => {
  const entries = [
    'smooth = ema(close, 12 bars, each: session)',
    'wild = stdev(logreturn(smooth), 20 bars)',
    'hem = bands(close, 20 bars, 2)',
    'wide = hem.upper - hem.lower',
    'hourly = mean(close, 4 bars) on 1 hour',
    'apart = close - BARS_MINUTES.close',
    'fan = slope(close, [5, 10] bars)',
  ];
  const rule = '5 minutes';
  const answer = await fetch(`${origin}/api/columns`, {
    method: 'POST',
    body: JSON.stringify({ tape: 'BARS_QUOTES', bars: rule, entries }),
  });
  const { columns } = (await answer.json()) as Answer;
  const frameOf = (source: Quotes | Bars) => {
    const {
      time: starts,
      end,
      open,
      high,
      low,
      close,
      volume,
      value,
      vwap,
      trades,
    } = buildBars(source, parseBarRule(rule), calendar);
    return { time: starts, end, columns: { open, high, low, close, volume, value, vwap, trades }, rule, calendar };
  };
  const quotes = frameOf({ time, bid: price, ask: asked });
  const wanted = evaluate(entries, { ...quotes, others: { BARS_MINUTES: frameOf(minutes) } });
  for (const { name, values } of wanted) expect(columns[name], name).toEqual(plain(values));
});
