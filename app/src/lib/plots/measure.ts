import { datesApartText, stretchText } from './stretchText';
import type { BarView } from './barView.svelte';
import { figureText } from '@jaunty-ledger/core';

/** Periods that are only numbered lie no time apart; days and longer bars lie dates apart. */
function apart({ precision, calendar }: BarView, from: number, to: number): string[] {
  if (precision === 'period') return [];
  const { zone } = calendar;
  return [precision === 'moment' ? stretchText(to - from) : datesApartText(zone.wallAt(from), zone.wallAt(to))];
}

/** What lies between the two rows of a measure: bars, time, and how far the close went. */
export function measureText(view: BarView): string {
  const { from, to } = view.measure!;
  const [first, last] = from <= to ? [from, to] : [to, from];
  const { time, close } = view.bars!;
  const change = close[last] - close[first];
  const count = last - first;
  const bars = `${count.toLocaleString('en')} ${count === 1 ? 'bar' : 'bars'}`;
  const sign = change > 0 ? '+' : '';
  return [
    bars,
    ...apart(view, time[first], time[last]),
    sign + figureText(change, 'price', view.tape.priceDecimals),
    sign + figureText(change / close[first], 'fraction', 2),
  ].join(', ');
}
