import type { Bars } from '@jaunty-ledger/core';
import { figureText } from '@jaunty-ledger/core';

/** A bar in words, in two short lines: where it opened and how it went, and between which prices. */
export function barWords(
  { open, high, low, close }: Pick<Bars, 'open' | 'high' | 'low' | 'close'>,
  row: number,
  decimals: number,
): [string, string] {
  if (row >= open.length) return ['still to come', ''];
  if (Number.isNaN(close[row])) return ['no price', ''];
  const price = (value: number) => figureText(value, 'price', decimals);
  const move = close[row] - open[row];
  const share = figureText(Math.abs(move) / open[row], 'fraction', decimals);
  const way = move === 0 ? 'closed as it opened' : `${move > 0 ? 'rose' : 'fell'} ${share}`;
  return [`opened ${price(open[row])}, ${way}`, `between ${price(low[row])} and ${price(high[row])}`];
}
