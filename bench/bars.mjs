import { buildBars, makeCalendar, parseBarRule } from '../core/dist/index.js';
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

/** The least that any way of cutting has to do: read every trade and keep four prices and two sums. */
function plainLoop({ time, price, size }) {
  const bars = [];
  let minute = -1;
  let open = 0;
  let high = 0;
  let low = 0;
  let volume = 0;
  let value = 0;
  for (let row = 0; row < time.length; row++) {
    const key = Math.floor(time[row] / 60e6);
    if (key !== minute) {
      if (minute >= 0) bars.push([minute, open, high, low, price[row - 1], volume, value]);
      minute = key;
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

export function barRows() {
  const source = trades(ROWS);
  const calendar = makeCalendar({ zone: 'Atlantic/Faroe' });
  const plain = bestOf(5, () => plainLoop(source));
  const rows = [['plain loop over the columns, minutes', perSecond(ROWS, plain), '']];
  for (const rule of [
    '1 minute',
    '1 hour',
    '1 day',
    '500 trades',
    '10000 units',
    '250000 value',
    '2500000 value',
    'range 0.25',
  ]) {
    const taken = bestOf(5, () => buildBars(source, parseBarRule(rule), calendar));
    rows.push([`\`${rule}\``, perSecond(ROWS, taken), `${times(taken / plain)} the plain loop`]);
  }
  const minutes = buildBars(trades(20_000_000), parseBarRule('1 second'), calendar);
  const count = minutes.time.length;
  const larger = bestOf(3, () => buildBars(minutes, parseBarRule('1 hour'), calendar));
  rows.push([
    'bars of a second to bars of an hour',
    perSecond(count, larger),
    `${(count / 1e6).toFixed(1)} million bars`,
  ]);
  for (const million of [1, 5, 20]) {
    const part = trades(million * 1e6);
    const taken = bestOf(2, () => buildBars(part, parseBarRule('1 minute'), calendar));
    rows.push([
      `\`1 minute\` from ${million} million`,
      `${taken.toFixed(0)} ms`,
      `${(taken / million).toFixed(1)} ms a million`,
    ]);
  }
  return rows;
}
