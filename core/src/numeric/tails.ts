import betainc from '@stdlib/math-base-special-betainc';
import erfc from '@stdlib/math-base-special-erfc';
import erfcinv from '@stdlib/math-base-special-erfcinv';
import gammainc from '@stdlib/math-base-special-gammainc';

/**
 * The chance that a chi-square variable exceeds a value; small chances keep their digits.
 * @param degrees  of freedom, above 0
 * @returns NaN for a value that is missing
 */
export const chiSquareTail = (value: number, degrees: number): number =>
  value <= 0 ? 1 : gammainc(value / 2, degrees / 2, true, true);

/** The chance that a standard normal variable is at most z. */
export const normalBelow = (z: number): number => erfc(-z / Math.SQRT2) / 2;

/** The chance that a standard normal variable is at least as far from 0 as z. */
export const normalBeyond = (z: number): number => erfc(Math.abs(z) / Math.SQRT2);

/** The value that a standard normal variable is below with chance p. */
export const normalQuantile = (p: number): number => -Math.SQRT2 * erfcinv(2 * p);

/** The chance that a Student's t variable is at least as far from 0 as t. @param degrees  of freedom, above 0 */
export const studentBeyond = (t: number, degrees: number): number =>
  Number.isNaN(t) ? NaN : betainc(degrees / (degrees + t * t), degrees / 2, 0.5);
