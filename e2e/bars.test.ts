import {
  BAR_FIELDS,
  buildBars,
  makeCalendar,
  parseBarRule,
  type Bars,
  type Quotes,
  type Ticks,
} from '@jaunty-ledger/core';
import { beforeAll, describe, expect, inject, it } from 'vitest';

/*
 * Bars of every kind from records of every kind, as the server cuts them from its store a chunk after the other, are those
 * that the core cuts from all records at once.
 */

const origin = inject('origin');
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
const ask = price.map((bid) => Math.round(bid * 100 + next(4)) / 100);
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
  QUOTES: { source: { time, bid: price, ask }, columns: { bid: price, ask } },
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

describe.each(Object.entries(SOURCES))('%s', (name, { source }) => {
  it.each(RULES)('%s', async (text) => {
    const answer = await fetch(`${origin}/api/tapes/BARS_${name}/bars?${new URLSearchParams({ rule: text })}`);
    const body = (await answer.json()) as {
      detail?: string;
      leftOut: number;
      columns: Record<string, (number | string)[]>;
    };
    let wanted: ReturnType<typeof buildBars>;
    try {
      wanted = buildBars(source, parseBarRule(text), calendar);
    } catch (error) {
      expect(answer.status).toBe(400);
      expect(body.detail).toContain((error as Error).message.slice(1)); // sentences begin with a capital
      return;
    }
    expect(answer.status, body.detail).toBe(200);
    expect(body.leftOut).toBe(wanted.leftOut);
    expect(body.columns.complete).toEqual(Array.from(wanted.complete));
    for (const field of BAR_FIELDS) {
      const got = body.columns[field];
      if (field === 'time' || field === 'end')
        expect(got.map((x) => Date.parse(String(x)))).toEqual(Array.from(wanted[field], (x) => x / 1000));
      else expect(got, field).toEqual(Array.from(wanted[field], (x) => (Number.isNaN(x) ? null : x)));
    }
  });
});
