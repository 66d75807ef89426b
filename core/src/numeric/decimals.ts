import { nearestWhole } from './wholes.js';

/** More places than any market quotes; a column that needs more is not decimal. */
export const MOST_DECIMALS = 9;

/**
 * The fewest decimal places that write every value of a column exactly.
 * @param least  places known to be needed already
 * @returns      places, at most `MOST_DECIMALS` + 1, which stands for "not decimal"
 */
export function decimalsOf(column: Float64Array, least = 0): number {
  let places = least;
  let scale = 10 ** places;
  for (let row = 0; row < column.length; row++) {
    const x = column[row];
    if (nearestWhole(x * scale) / scale === x) continue; // nearly all of them
    // a value that is not decimal, or missing, would never come out even
    while (places <= MOST_DECIMALS && Math.round(x * scale) / scale !== x) {
      if (x - x !== 0) break;
      scale = 10 ** ++places;
    }
  }
  return places;
}

/** Prices with fewer places than this have none that are rounding alone. */
const NOISY_DECIMALS = 6;
/** How far single precision lies off, as a share of the value. */
const SINGLE_PRECISION = 2 ** -23;
/** So many of the values may need more places. */
const MOST_OTHERS = 0.01;

/**
 * Decimal places that prices are usually quoted with, where the last ones of a column are only what single precision has
 * left: 2874.560059 stands for 2874.56.
 * @param column    some of the prices
 * @param decimals  places that write them exactly
 */
export function usualDecimals(column: Float64Array, decimals: number): number {
  if (decimals < NOISY_DECIMALS || column.length === 0) return decimals;
  for (let places = 0; places < decimals; places++) {
    const scale = 10 ** places;
    let others = 0;
    for (const x of column) if (Math.abs(Math.round(x * scale) / scale - x) > Math.abs(x) * SINGLE_PRECISION) others++;
    if (others <= column.length * MOST_OTHERS) return places;
  }
  return decimals;
}
