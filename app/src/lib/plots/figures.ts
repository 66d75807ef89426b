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

/** Small shares get more places, so that three figures of them are seen. */
function percentText(percent: number): string {
  const size = Math.abs(percent);
  const decimals = size >= 1 || size === 0 ? 2 : size >= 0.1 ? 3 : 4;
  return `${minus(format(`.${decimals}f`)(percent))} %`;
}

/** Figures on an axis, with as many digits as its step needs. */
export function axisText(unit: Unit, step: number, chosen: number | null = null): (value: number) => string {
  if (chosen !== null) {
    const [scale, sign] = unit === 'fraction' ? [100, ' %'] : [1, ''];
    return (value) => minus(format(`,.${chosen}f`)(value * scale)) + sign;
  }
  if (unit === 'fraction') {
    const decimals = decimalsOfStep(step * 100);
    return (value) => `${minus(format(`.${decimals}f`)(value * 100))} %`;
  }
  if (unit === 'units' || unit === 'trades' || unit === 'value') {
    const short = format('~s');
    return (value) => (Math.abs(value) >= 1000 ? minus(short(value)) : minus(format('~r')(value)));
  }
  const decimals = decimalsOfStep(step);
  return (value) => minus(format(`,.${decimals}f`)(value));
}

const decimalsOfStep = (step: number): number => Math.max(0, Math.min(12, -Math.floor(Math.log10(step) + 1e-9)));

/** D3 writes the typographic minus already; a zero that was rounded from below has none. */
const minus = (text: string): string => (/^−0(?:\.0*)?$/.test(text) ? text.slice(1) : text);
