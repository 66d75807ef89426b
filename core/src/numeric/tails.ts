import gammainc from '@stdlib/math-base-special-gammainc';

/**
 * The chance that a chi-square variable exceeds a value; small chances keep their digits.
 * @param degrees  of freedom, above 0
 * @returns NaN for a value that is missing
 */
export const chiSquareTail = (value: number, degrees: number): number =>
  value <= 0 ? 1 : gammainc(value / 2, degrees / 2, true, true);
