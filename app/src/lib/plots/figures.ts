import { format } from 'd3-format';
import type { Unit } from '@jaunty-ledger/core';

const grouped = format(',');
const significant = format(',.4r');
const large = format(',.2f');

/** How figures of a unit are written. The figure in full is always at hand beside a shortened one. */
export function figureText(value: number, unit: Unit, priceDecimals: number): string {
  if (Number.isNaN(value)) return '–';
  switch (unit) {
    case 'price':
      return minus(format(`,.${priceDecimals}f`)(value));
    case 'move':
      return minus(format(`,.${movePlaces(value, priceDecimals)}f`)(value));
    case 'fraction':
      return percentText(value * 100);
    case 'units':
    case 'trades':
      return Number.isInteger(value)
        ? minus(grouped(value))
        : minus((Math.abs(value) < 1000 ? significant : large)(value));
    case 'value':
      return minus(format(',.2f')(value));
    case 'truth':
      return value === 0 ? 'no' : 'yes';
    case 'number':
      return Number.isInteger(value) && Math.abs(value) < 1e15
        ? minus(grouped(value))
        : minus((Math.abs(value) < 1000 ? significant : large)(value));
  }
}

/** Places of a difference of prices: theirs, and more where it is so small that three figures of it would not be seen. */
const movePlaces = (value: number, priceDecimals: number): number =>
  value === 0 ? priceDecimals : Math.max(priceDecimals, Math.min(12, 2 - Math.floor(Math.log10(Math.abs(value)))));

/** Small shares get more places, so that three figures of them are seen. */
function percentText(percent: number): string {
  const size = Math.abs(percent);
  const decimals = size >= 1 || size === 0 ? 2 : size >= 0.1 ? 3 : 4;
  return `${minus(format(`.${decimals}f`)(percent))} %`;
}

/** D3 writes the typographic minus already; a zero that was rounded from below has none. */
const minus = (text: string): string => (/^−0(?:\.0*)?$/.test(text) ? text.slice(1) : text);
