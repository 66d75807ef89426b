import { format } from 'd3-format';
import type { Unit } from '@jaunty-ledger/core';

/** Large counts by the words of the trade, the greatest first. */
const SCALES = [
  [1e12, ' tn'],
  [1e9, ' bn'],
  [1e6, ' m'],
  [1e3, ' k'],
] as const;

/** Digits of a figure on an axis; what comes after them is the rounding of a double. */
const DIGITS = 12;
/** Figures with more places are written with an exponent: there is no room for them. */
const MOST_PLACES = 8;

/**
 * How the figures of an axis are written: as many places as they need to be told apart and be true, all of them alike.
 * @param ticks   values at which figures stand
 * @param chosen  places that somebody has chosen for them
 */
export function axisText(
  unit: Unit,
  ticks: readonly number[],
  chosen: number | null = null,
): (value: number) => string {
  const greatest = Math.max(...ticks.map(Math.abs), 0);
  const isCount = unit === 'units' || unit === 'trades' || unit === 'value';
  const [scale, sign] =
    unit === 'fraction' ? [0.01, ' %'] : (SCALES.find(([size]) => isCount && greatest >= size) ?? [1, '']);
  const scaled = ticks.map((tick) => tick / scale);
  const plainly = Math.max(0, ...scaled.map(placesOf));
  const isTiny = chosen === null && plainly > MOST_PLACES;
  const places = chosen ?? (isTiny ? Math.max(0, ...scaled.map(exponentPlaces)) : plainly);
  const written = format(isTiny ? `.${places}e` : `,.${places}f`);
  return (value) => {
    const text = value === 0 && isTiny ? '0' : written(value / scale);
    // a zero that was rounded from below has no sign, and counts of nothing have no thousands
    return `${/^−0(\.0*)?$/.test(text) ? text.slice(1) : text}${value === 0 && isCount ? '' : sign}`;
  };
}

/** Decimal places that a value has. */
function placesOf(value: number): number {
  const [digits, exponent = '0'] = Number(value.toPrecision(DIGITS)).toString().split('e');
  const decimals = (digits.split('.')[1]?.length ?? 0) - Number(exponent);
  return Math.max(0, decimals);
}

const exponentPlaces = (value: number): number =>
  Number(value.toPrecision(DIGITS)).toExponential().split('e')[0].split('.')[1]?.length ?? 0;
