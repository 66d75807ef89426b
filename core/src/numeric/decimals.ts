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
