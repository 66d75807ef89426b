import { describe, expect, it } from 'vitest';
import { BAR_FIELDS } from '@jaunty-ledger/core';
import type { PlottedPage } from './plottedPage';
import { chosenOf, rowColumns, valueIn } from './rowColumns';

describe('the columns of the rows', () => {
  const column = (...values: number[]) => Float64Array.from(values);
  const NONE = column(NaN, NaN);
  const bars = {
    ...{ time: column(0, 1), end: column(1, 2), open: column(35, 36), high: column(36, 36), low: column(35, 35) },
    ...{
      close: column(36, 2874.560059),
      volume: NONE,
      value: NONE,
      vwap: column(35.12345678901, 35),
      trades: column(1, 2),
    },
    numbers: { lots: column(1.25, 2) },
    texts: {},
    words: new Map(),
  };
  const result = {
    state: 'drawn',
    unit: 'price',
    phrase: 'mean of close',
    ahead: 0,
    columns: [{ name: 'mid', values: column(35.5, 1455.2800295) }],
  };
  const page = {
    view: { bars, isSingle: false, tape: { priceDecimals: 0 } },
    results: { shown: new Map([['a', result]]) },
    lanes: [{ entries: [{ id: 'a', hidden: false, shift: 1 }] }],
  } as unknown as Pick<PlottedPage, 'view' | 'results' | 'lanes'>;
  const columns = rowColumns(page, BAR_FIELDS);

  it('are those that say something', () =>
    expect(columns.map(({ name }) => name)).toEqual(['open', 'high', 'low', 'close', 'vwap', 'trades', 'lots', 'mid']));

  it('are given as they were chosen, without those that are gone', () =>
    expect(chosenOf(columns, ['mid', 'gone', 'close']).map(({ key }) => key)).toEqual(['mid', 'close']));

  it('stand where they are drawn: one that is drawn later goes on over bars to come', () => {
    const mid = columns.find(({ key }) => key === 'mid')!;
    expect([0, 1, 2, 3].map((row) => valueIn(mid, row))).toEqual([NaN, 35.5, 1455.2800295, NaN]);
  });

  it('have places enough: prices in full, what is worked out from them with some more than they have', () =>
    expect(Object.fromEntries(columns.map(({ name, places }) => [name, places]))).toMatchObject({
      open: 0,
      close: 6,
      vwap: 3,
      lots: 2,
      mid: 3,
    }));
});
