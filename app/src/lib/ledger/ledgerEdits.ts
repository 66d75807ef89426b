import { FormulaError, parseEntry, printEntry, splitEntry } from '@jaunty-ledger/core';
import { randomId } from '$lib/api/randomId';
import { newEntry, newLane, type LedgerBody, type LedgerEntry, type LedgerLane } from '$lib/api/ledgers';
import { freeInk } from '$lib/plots/laneModel';

/* Changes of a ledger's body, each in place. */

export const newId = (): string => randomId(8);

export const entriesOf = (body: LedgerBody): LedgerEntry[] => body.lanes.flatMap((lane) => lane.entries);

const laneOf = (body: LedgerBody, entryId: string): LedgerLane | undefined =>
  body.lanes.find((lane) => lane.entries.some(({ id }) => id === entryId));

/** Takes an entry away; a lane that was made for entries goes with its last one. */
export function removeEntry(body: LedgerBody, id: string): void {
  for (const lane of body.lanes) lane.entries = lane.entries.filter((entry) => entry.id !== id);
  body.lanes = body.lanes.filter((lane) => lane.base !== 'none' || lane.entries.length > 0);
}

/** Puts a copy with a name of its own right after an entry. */
export function duplicateEntry(body: LedgerBody, id: string): void {
  const lane = laneOf(body, id);
  if (!lane) return;
  const at = lane.entries.findIndex((entry) => entry.id === id);
  const { name, formula } = splitEntry(lane.entries[at].text);
  const copy = { ...lane.entries[at], id: newId(), ink: freeInk(body), text: `${freeName(body, name)} = ${formula}` };
  lane.entries.splice(at + 1, 0, copy);
}

/** A name that no entry has: the same, or with a number. */
export function freeName(body: LedgerBody, wanted: string): string {
  const taken = new Set(entriesOf(body).map(({ text }) => splitEntry(text).name));
  const stem = wanted.replace(/\d+$/, '') || 'entry';
  let name = wanted || stem;
  for (let number = 2; taken.has(name); number++) name = `${stem}${number}`;
  return name;
}

/** Moves an entry by places in the order of the margin; past the end of its lane it goes on into the next. */
export function moveEntry(body: LedgerBody, id: string, by: 1 | -1): void {
  const lane = laneOf(body, id);
  if (!lane) return;
  const at = lane.entries.findIndex((entry) => entry.id === id);
  const to = at + by;
  if (to >= 0 && to < lane.entries.length) {
    [lane.entries[at], lane.entries[to]] = [lane.entries[to], lane.entries[at]];
    return;
  }
  const next = body.lanes[body.lanes.indexOf(lane) + by];
  if (next) moveEntryTo(body, id, next.id, by === 1 ? 0 : next.entries.length);
  else if (lane.base !== 'none' || lane.entries.length > 1) moveToNewLane(body, id);
}

/** Moves an entry into a lane, before the entry that stands at `index` there. */
export function moveEntryTo(body: LedgerBody, id: string, laneId: string, index: number): void {
  const from = laneOf(body, id);
  const to = body.lanes.find((lane) => lane.id === laneId);
  if (!from || !to) return;
  const at = from.entries.findIndex((entry) => entry.id === id);
  const [entry] = from.entries.splice(at, 1);
  to.entries.splice(from === to && at < index ? index - 1 : index, 0, entry);
  body.lanes = body.lanes.filter((lane) => lane.base !== 'none' || lane.entries.length > 0);
}

/** Moves an entry into a new lane at the foot, on the scale of that lane. */
export function moveToNewLane(body: LedgerBody, id: string): void {
  const lane = newLane(`lane-${newId()}`, 'none', 1);
  body.lanes.push(lane);
  moveEntryTo(body, id, lane.id, 0);
  for (const entry of entriesOf(body)) if (entry.id === id) entry.second = false;
}

export function moveLane(body: LedgerBody, id: string, by: 1 | -1): void {
  const at = body.lanes.findIndex((lane) => lane.id === id);
  const to = at + by;
  if (to < 0 || to >= body.lanes.length) return;
  [body.lanes[at], body.lanes[to]] = [body.lanes[to], body.lanes[at]];
}

/** Shows an entry alone, or all again where it is alone already. */
export function soloEntry(body: LedgerBody, id: string): void {
  const entries = entriesOf(body);
  const isAlone = entries.every((entry) => entry.hidden === (entry.id !== id));
  for (const entry of entries) entry.hidden = !isAlone && entry.id !== id;
}

/** The entry with `from: 1` in its outermost function, so that it shows values before its window is full; none if it has one. */
export function startedEarly(text: string): string | undefined {
  try {
    const entry = parseEntry(text);
    const { expression } = entry;
    if (expression.kind !== 'call' || expression.options.some(({ name }) => name === 'from')) return undefined;
    const at = { start: 0, end: 0 };
    const from = { name: 'from', nameAt: at, value: { kind: 'number' as const, value: 1, ...at } };
    return printEntry({ ...entry, expression: { ...expression, options: [...expression.options, from] } });
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    return undefined; // a formula under way has no window yet
  }
}

/** Ready-made sets of entries to start from. */
export const SETS: readonly {
  name: string;
  says: string;
  /** Entries that are put with the prices. */
  prices?: readonly string[];
  /** Entries of lanes of their own. */
  lanes: readonly (readonly string[])[];
}[] = [
  {
    name: 'Trend',
    says: 'two averages, and the slope of the price',
    prices: ['quick = ema(close, 12 bars)', 'steady = mean(close, 50 bars)'],
    lanes: [['steepness = slope(close, 30 bars)']],
  },
  {
    name: 'Bands and oscillator',
    says: 'bands about an average, the difference of two averages with its signal, and what both say in words',
    prices: ['hem = bands(close, 20 bars, 2)'],
    lanes: [['swing = macd(close, 12, 26, 9)']],
  },
  {
    name: 'Volatility',
    says: 'three estimates beside each other, and how they have changed',
    lanes: [
      [
        'by_close = volatility(30 bars)',
        'by_range = volatility(30 bars, by: parkinson)',
        'by_all = volatility(30 bars, by: yang-zhang)',
      ],
      ['reach = atr(14 bars)'],
    ],
  },
  {
    name: 'Memory',
    says: 'the Hurst exponent two ways, and how returns depend on the ones before',
    lanes: [
      [
        'memory = hurst(logreturn(close), 256 bars, by: dfa)',
        'memory_by_variance = hurst(logreturn(close), 256 bars, by: variance)',
      ],
      ['echo = correlation(return(close), lag(return(close)), 100 bars)'],
    ],
  },
];

/** Puts the entries of a set in: prices with the prices, the others in lanes of their own. */
export function addSet(body: LedgerBody, { prices = [], lanes }: (typeof SETS)[number]): void {
  const put = (lane: LedgerLane, texts: readonly string[]) => {
    for (const text of texts) {
      const { name, formula } = splitEntry(text);
      lane.entries.push(newEntry(newId(), `${freeName(body, name)} = ${formula}`, freeInk(body)));
    }
  };
  const ownLane = () => {
    body.lanes.push(newLane(`lane-${newId()}`, 'none', 1));
    return body.lanes[body.lanes.length - 1];
  };
  if (prices.length > 0) put(body.lanes.find(({ base }) => base === 'price') ?? ownLane(), prices);
  for (const texts of lanes) put(ownLane(), texts);
}
