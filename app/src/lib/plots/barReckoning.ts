import type { BarRule } from '@jaunty-ledger/core';
import type { RecordPage } from '$lib/api/client';
import type { TapeKind } from '@jaunty-ledger/files/reading/reading';

/** A figure of a bar, worked out from its records by what a pocket calculator can do. */
export interface Reckoned {
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
}

/** What of the columns of records goes into a bar. */
export function barRecords(kind: TapeKind, { price }: Pick<BarRule, 'price'>, page: RecordPage): BarRecords {
  const numbers = (name: string) => (page.columns[name] ?? []).map((x) => (typeof x === 'number' ? x : NaN));
  const all = (prices: number[], size: number[]) => ({ open: prices, high: prices, low: prices, close: prices, size });
  if (kind === 'bars') {
    const [open, high, low, close, size] = ['open', 'high', 'low', 'close', 'volume'].map(numbers);
    return { open, high, low, close, size };
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
export function reckoned(kind: TapeKind, records: BarRecords, page: RecordPage): Reckoned[] {
  const { open, high, low, close, size } = records;
  const known = (values: readonly unknown[]) =>
    values.map((x) => (typeof x === 'number' ? x : NaN)).filter((x) => !Number.isNaN(x));
  const sum = (values: readonly number[]) => (values.length > 0 ? values.reduce((a, b) => a + b, 0) : NaN);
  // one after the other: a function takes no thousands of arguments
  const extreme = (values: readonly number[], of: (a: number, b: number) => number) =>
    values.length > 0 ? values.reduce((a, b) => of(a, b)) : NaN;
  const volume = sum(known(size));
  const values = page.columns.value ?? size.map((units, row) => units * close[row]);
  const value = Number.isNaN(volume) && kind !== 'bars' ? NaN : sum(known(values));
  const trades = page.columns.trades ? sum(known(page.columns.trades)) : close.length;
  return [
    { of: 'open', says: 'open, of the first record', value: known(open)[0] ?? NaN },
    { of: 'high', says: 'high, the greatest', value: extreme(known(high), Math.max) },
    { of: 'low', says: 'low, the least', value: extreme(known(low), Math.min) },
    { of: 'close', says: 'close, of the last', value: known(close).at(-1) ?? NaN },
    { of: 'volume', says: 'volume, the sum of sizes', value: volume },
    { of: 'value', says: 'value, the sum of price × size', value },
    { of: 'vwap', says: 'vwap, value / volume', value: volume > 0 ? value / volume : NaN },
    { of: 'trades', says: page.columns.trades ? 'trades, their sum' : 'records', value: trades },
  ];
}
