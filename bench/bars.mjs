import { BarBuilder, buildBars, makeCalendar, parseBarRule } from '../core/dist/index.js';
import { bestOf, perSecond, standardRandom, times } from './timing.mjs';

const ROWS = 5_000_000;

function trades(rows) {
  const random = standardRandom();
  const next = () => random.next().value;
  const time = new Float64Array(rows);
  const price = new Float64Array(rows);
  const size = new Float64Array(rows);
  let at = Date.parse('2026-01-05T08:30:00Z') * 1000;
  let cents = 10_000;
  for (let row = 0; row < rows; row++) {
    time[row] = at += Math.floor(next() * 1000) * 1000;
    cents = Math.max(100, cents + Math.round(next() * 4 - 2));
    price[row] = cents / 100;
    size[row] = 1 + Math.floor(next() * 400);
  }
  return { time, price, size };
}

/** Ten years of minutes, each with its prices, volume, value and count. */
function minuteBars(rows) {
  const random = standardRandom();
  const column = (of) => Float64Array.from({ length: rows }, (_, row) => of(row));
  const startsAt = Date.parse('2016-01-05T00:00:00Z') * 1000;
  let cents = 10_000;
  const close = column(() => (cents = Math.max(100, cents + Math.round(random.next().value * 4 - 2))) / 100);
  const open = column((row) => close[Math.max(0, row - 1)]);
  const volume = column(() => 100 + Math.floor(random.next().value * 5000));
  return {
    time: column((row) => startsAt + row * 60e6),
    end: column((row) => startsAt + (row + 1) * 60e6),
    open,
    high: column((row) => Math.max(open[row], close[row]) + 0.01),
    low: column((row) => Math.min(open[row], close[row]) - 0.01),
    close,
    volume,
    value: column((row) => volume[row] * close[row]),
    vwap: close,
    trades: column(() => 1 + Math.floor(random.next().value * 120)),
    complete: new Uint8Array(rows).fill(1),
  };
}

/** The least that any way of cutting has to do: read every trade and keep four prices and two sums. */
function plainLoop({ time, price, size }, micros) {
  const bars = [];
  let current = -1;
  let open = 0;
  let high = 0;
  let low = 0;
  let volume = 0;
  let value = 0;
  for (let row = 0; row < time.length; row++) {
    const key = Math.floor(time[row] / micros);
    if (key !== current) {
      if (current >= 0) bars.push([current, open, high, low, price[row - 1], volume, value]);
      current = key;
      open = high = low = price[row];
      volume = value = 0;
    }
    if (price[row] > high) high = price[row];
    if (price[row] < low) low = price[row];
    volume += size[row];
    value += price[row] * size[row];
  }
  return bars;
}

/** Records of a block, as many as a part of a tape holds. */
const BLOCK_ROWS = 65_536;

/** Cuts trades block after block, as the server does with what it decodes. */
function cutBars({ time, price, size }, rule, calendar) {
  const builder = new BarBuilder(parseBarRule(rule), calendar);
  for (let from = 0; from < time.length; from += BLOCK_ROWS) {
    const block = (column) => column.subarray(from, from + BLOCK_ROWS);
    builder.add({ time: block(time), price: block(price), size: block(size) });
  }
  return builder.finish();
}

/** Every kind with long bars and with short ones, where the making of bars outweighs the reading of trades. */
const LENGTHS = [
  {
    name: 'minutes',
    micros: 60e6,
    rules: ['1 minute', '1 hour', '1 day', '500 trades', '30000 units', '2500000 value', 'range 0.25'],
  },
  {
    name: '10 seconds',
    micros: 10e6,
    rules: ['10 seconds', '15 trades', '3000 units', '250000 value', 'range 0.05'],
  },
];

export function barRows() {
  const source = trades(ROWS);
  const calendar = makeCalendar({ zone: 'Atlantic/Faroe' });
  const rows = [];
  for (const { name, micros, rules } of LENGTHS) {
    const plain = bestOf(5, () => plainLoop(source, micros));
    rows.push([`plain loop over the columns, ${name}`, perSecond(ROWS, plain), '']);
    for (const rule of rules) {
      let bars = 0;
      const taken = bestOf(5, () => (bars = cutBars(source, rule, calendar).time.length));
      rows.push([
        `\`${rule}\`, ${Math.round(ROWS / bars)} trades a bar`,
        perSecond(ROWS, taken),
        `${times(taken / plain)} the plain loop`,
      ]);
    }
  }
  const minutes = minuteBars(ROWS);
  const larger = bestOf(5, () => buildBars(minutes, parseBarRule('1 hour'), calendar));
  rows.push(['bars of a minute to bars of an hour', perSecond(ROWS, larger), `${ROWS / 1e6} million bars`]);
  for (const million of [1, 5, 20]) {
    const part = trades(million * 1e6);
    const taken = bestOf(2, () => cutBars(part, '1 minute', calendar));
    rows.push([
      `\`1 minute\` from ${million} million`,
      `${taken.toFixed(0)} ms`,
      `${(taken / million).toFixed(1)} ms a million`,
    ]);
  }
  return rows;
}
