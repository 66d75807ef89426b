import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decimalsOf, usualDecimals } from './decimals.js';

describe('the decimals of prices', () => {
  const cents = fc.array(fc.integer({ min: 100_000, max: 999_999 }), { minLength: 3, maxLength: 50 });

  it('are those that they were quoted with, where single precision has left its rounding', () =>
    fc.assert(
      fc.property(cents, (quoted) => {
        const column = Float64Array.from(quoted, (price) => Number(Math.fround(price / 100).toFixed(6)));
        expect(usualDecimals(column, decimalsOf(column))).toBeLessThanOrEqual(2);
        expect(usualDecimals(column, 6)).toBe(decimalsOf(Float64Array.from(quoted, (price) => price / 100)));
      }),
    ));

  it('are all of them where they are few, or mean something', () => {
    expect(usualDecimals(Float64Array.of(1.2345, 1.2346), 4)).toBe(4);
    expect(usualDecimals(Float64Array.of(0.123456, 0.654321), 6)).toBe(6);
    expect(usualDecimals(new Float64Array(0), 7)).toBe(7);
  });
});
