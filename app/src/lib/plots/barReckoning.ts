import type { BarRule } from '@jaunty-ledger/core';
import type { RecordPage } from '$lib/api/client';
import type { TapeKind } from '@jaunty-ledger/files/reading/reading';

/** A figure of a bar, worked out from its records by what a pocket calculator can do. */
interface Reckoned {
  of: 'open' | 'high' | 'low' | 'close' | 'volume' | 'value' | 'vwap' | 'trades';
  says: string;
  /** Missing where the records do not tell. */
  value: number;
}

/** Prices and sizes of records, as bars are made of them. */
export interface BarRecords {
  open: number[];
  high: number[];
  low: number[];
  close: number[];
  size: number[];
  /** What was paid for all of a record, where it tells that. */
  value?: number[];
}

const numbersOf = (page: RecordPage, name: string): number[] =>
  (page.columns[name] ?? []).map((x) => (typeof x === 'number' ? x : NaN));

/** What of the columns of records goes into a bar. */
export function barRecords(kind: TapeKind, rule: Pick<BarRule, 'price' | 'adjusted'>, page: RecordPage): BarRecords {
  const traded = asTraded(kind, rule, page);
  if (rule.adjusted === undefined) return traded;
  const { open, high, low, close, size, value } = traded;
  const factor = numbersOf(page, rule.adjusted).map((adjusted, row) => adjusted / close[row]);
  const times = (prices: number[]) => prices.map((price, row) => price * factor[row]);
  return {
    open: times(open),
    high: times(high),
    low: times(low),
    close: times(close),
    size,
    value: value && times(value),
  };
}

function asTraded(kind: TapeKind, { price }: Pick<BarRule, 'price'>, page: RecordPage): BarRecords {
  const numbers = (name: string) => numbersOf(page, name);
  const all = (prices: number[], size: number[]) => ({ open: prices, high: prices, low: prices, close: prices, size });
  if (kind === 'bars') {
    const [open, high, low, close, size] = ['open', 'high', 'low', 'close', 'volume'].map(numbers);
    return { open, high, low, close, size, value: page.columns.value && numbers('value') };
  }
  if (kind !== 'quotes') return all(numbers('price'), numbers('size'));
  const [bid, ask] = [numbers('bid'), numbers('ask')];
  if (price !== 'mid') return all(price === 'bid' ? bid : ask, []);
  return all(
    bid.map((one, row) => (one + ask[row]) / 2),
    [],
  );
}

/** The figures of a bar from its records, all of which must be there. */
export function reckoned(
  kind: TapeKind,
  { take }: Pick<BarRule, 'take'>,
  records: BarRecords,
  page: RecordPage,
): Reckoned[] {
  const { size } = records;
  const known = (values: readonly unknown[]) =>
    values.map((x) => (typeof x === 'number' ? x : NaN)).filter((x) => !Number.isNaN(x));
  const sum = (values: readonly number[]) => (values.length > 0 ? values.reduce((a, b) => a + b, 0) : NaN);
  const volume = sum(known(size));
  const values = records.value ?? size.map((units, row) => units * records.close[row]);
  const value = Number.isNaN(volume) && kind !== 'bars' ? NaN : sum(known(values));
  const trades = page.columns.trades ? sum(known(page.columns.trades)) : records.close.length;
  const [open, high, low, close] = [records.open, records.high, records.low, records.close].map(known);
  const single = {
    first: { says: 'close, the first value', value: close[0] ?? NaN },
    sum: { says: 'close, the sum of the values', value: sum(close) },
    mean: { says: 'close, the mean of the values', value: sum(close) / close.length },
  };
  // one after the other: a function takes no thousands of arguments
  const extreme = (prices: readonly number[], of: (a: number, b: number) => number) =>
    prices.length > 0 ? prices.reduce((a, b) => of(a, b)) : NaN;
  const prices: Reckoned[] =
    take !== 'last'
      ? [{ of: 'close', ...single[take] }]
      : [
          { of: 'open', says: 'open, of the first record', value: open[0] ?? NaN },
          { of: 'high', says: 'high, the max', value: extreme(high, Math.max) },
          { of: 'low', says: 'low, the min', value: extreme(low, Math.min) },
          { of: 'close', says: 'close, of the last', value: close.at(-1) ?? NaN },
        ];
  return [
    ...prices,
    { of: 'volume', says: 'volume, the sum of sizes', value: volume },
    { of: 'value', says: 'value, the sum of price × size', value },
    { of: 'vwap', says: 'vwap, value / volume', value: volume > 0 ? value / volume : NaN },
    { of: 'trades', says: page.columns.trades ? 'trades, their sum' : 'records', value: trades },
  ];
}
