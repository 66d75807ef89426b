import { ArgumentError, requireSameLength } from '../arguments.js';
import type { Quotes, TextColumns, Ticks } from '../records/ticks.js';
import type { Bars } from './bars.js';
import type { BarRule, Take } from './barKind.js';

/** What bars are built from, whatever it came as: prices, and what is known of size, value and count. */
export interface Records {
  time: Float64Array;
  /** One and the same column four times for ticks and quotes. */
  open: Float64Array;
  high: Float64Array;
  low: Float64Array;
  close: Float64Array;
  size: Float64Array | undefined;
  /** Traded value; where it is not known it is price x size. Only bars bring it with them. */
  value: Float64Array | undefined;
  /** Trades in each record; one each where there is no such column. */
  trades: Float64Array | undefined;
  /** Where each record ends; at its own time if it is an instant. */
  end: Float64Array | undefined;
  /** Whether the prices stand for trades, so that price x size is a value. */
  priced: boolean;
  /** What records carry with them, words and numbers alike. */
  texts: TextColumns | undefined;
  /** What those come to in a bar, where it is not the last value. */
  takes: Readonly<Record<string, Take>>;
}

/** Single values are carried beside further columns under this name, which none of those has, where they are not the last. */
export const SINGLE_VALUES = 'single values';

/** Which records of a source a rule takes: those of its side, and bars that hold some. Undefined where it takes all. */
export function rowFilter(rule: BarRule, source: Ticks | Quotes | Bars): ((row: number) => boolean) | undefined {
  if ('price' in source) {
    const { side } = source;
    if (!rule.side) return undefined;
    const wanted = rule.side === 'buy' ? 1 : -1;
    return (row) => side![row] === wanted;
  }
  if ('bid' in source) return undefined;
  // bars that `carry` or `blank` made hold no record
  const { trades } = source;
  return trades.includes(0) ? (row) => trades[row] !== 0 : undefined;
}

/** @throws {ArgumentError} for columns of unequal length, or a rule that the source cannot answer */
export function recordsOf(source: Ticks | Quotes | Bars, rule: BarRule): Records {
  if (rule.side && !('side' in source && source.side))
    throw new ArgumentError('rule', 'a rule without `side`, since the records have none', `side: ${rule.side}`);
  refuseUnknownColumns(source, rule);
  const carrying = source.numbers ? { ...source, texts: { ...source.texts, ...source.numbers } } : source;
  const traded = recordsFrom(carrying, rule);
  const records = rule.adjusted === undefined ? traded : adjusted(traded, source.numbers![rule.adjusted]);
  if (rule.take !== 'last') records.texts = { ...records.texts, [SINGLE_VALUES]: records.close };
  records.takes = rule.take === 'last' ? rule.takes : { ...rule.takes, [SINGLE_VALUES]: rule.take };
  const takes = rowFilter(rule, source);
  return takes ? keepRecords(records, takes) : records;
}

function refuseUnknownColumns(source: Ticks | Quotes | Bars, { take, takes, adjusted: column }: BarRule): void {
  const known = Object.keys(source.numbers ?? {});
  const wanted = [...Object.keys(takes), ...(column === undefined ? [] : [column])];
  const unknown = wanted.find((name) => !known.includes(name));
  if (unknown !== undefined) {
    const right =
      known.length > 0
        ? `one of the further columns: ${known.join(', ')}`
        : 'no column: the records have no further ones';
    throw new ArgumentError('rule', right, unknown);
  }
  if (take !== 'last' && 'open' in source)
    throw new ArgumentError('rule', 'a rule without `take` for records that are bars themselves', `take: ${take}`);
}

/** Prices, and what was paid in all, by the factor of each record; missing where that is not known. */
function adjusted(records: Records, closes: Float64Array): Records {
  const factor = closes.map((close, row) => close / records.close[row]);
  const done = new Map<Float64Array, Float64Array>(); // ticks share one column for four prices
  const times = (column: Float64Array): Float64Array => {
    const made = done.get(column) ?? column.map((x, row) => x * factor[row]);
    done.set(column, made);
    return made;
  };
  const { open, high, low, close, value } = records;
  return {
    ...records,
    open: times(open),
    high: times(high),
    low: times(low),
    close: times(close),
    value: value && times(value),
  };
}

const recordsFrom = (source: Ticks | Quotes | Bars, rule: BarRule): Records =>
  'price' in source ? ofTicks(source) : 'bid' in source ? ofQuotes(source, rule) : ofBars(source);

function ofTicks({ time, price, size, texts }: Ticks): Records {
  requireSameLength('price', price, time.length);
  if (size) requireSameLength('size', size, time.length);
  return withOnePrice(time, price, size, true, texts);
}

function ofQuotes({ time, bid, ask, texts }: Quotes, { price }: BarRule): Records {
  requireSameLength('bid', bid, time.length);
  requireSameLength('ask', ask, time.length);
  const chosen = price === 'bid' ? bid : price === 'ask' ? ask : bid.map((b, row) => (b + ask[row]) / 2);
  return withOnePrice(time, chosen, undefined, false, texts);
}

function ofBars({ time, end, open, high, low, close, volume, value, trades, texts }: Bars): Records {
  return { time, open, high, low, close, size: volume, value, trades, end, priced: true, texts, takes: {} };
}

function withOnePrice(
  time: Float64Array,
  price: Float64Array,
  size: Float64Array | undefined,
  priced: boolean,
  texts: TextColumns | undefined,
): Records {
  // each field by name and in one order: records that are spread together are of another make each time to the engine
  return {
    time,
    open: price,
    high: price,
    low: price,
    close: price,
    size,
    value: undefined,
    trades: undefined,
    end: undefined,
    priced,
    texts,
    takes: {},
  };
}

/** The records that pass, in new columns. */
function keepRecords(records: Records, passes: (row: number) => boolean): Records {
  const kept = records.time.map((_, row) => (passes(row) ? 1 : 0));
  const count = kept.reduce((sum, one) => sum + one, 0);
  const copied = new Map<Float64Array, Float64Array>(); // ticks share one column for four prices
  const take = (column: Float64Array): Float64Array => {
    let taken = copied.get(column);
    if (!taken) {
      taken = new Float64Array(count);
      for (let row = 0, at = 0; row < column.length; row++) if (kept[row]) taken[at++] = column[row];
      copied.set(column, taken);
    }
    return taken;
  };
  const { time, open, high, low, close, size, value, trades, end, priced, texts, takes } = records;
  return {
    time: take(time),
    open: take(open),
    high: take(high),
    low: take(low),
    close: take(close),
    size: size && take(size),
    value: value && take(value),
    trades: trades && take(trades),
    end: end && take(end),
    priced,
    texts: texts && mapTexts(texts, take),
    takes,
  };
}

/** The same text columns, each made into another. */
const mapTexts = (texts: TextColumns, part: (column: Float64Array) => Float64Array): TextColumns =>
  Object.fromEntries(Object.entries(texts).map(([name, column]) => [name, part(column)]));
