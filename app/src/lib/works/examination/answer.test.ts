import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { outlineOf } from './answer';

describe('the outline of a long line', () => {
  const line = fc
    .array(
      fc.oneof({ weight: 8, arbitrary: fc.integer({ min: -99, max: 99 }) }, { weight: 1, arbitrary: fc.constant(NaN) }),
      { maxLength: 200 },
    )
    .map((values) => Float64Array.from(values));

  it('keeps its least and its greatest value, and where they lie', () =>
    fc.assert(
      fc.property(line, fc.integer({ min: 2, max: 9 }), (values, every) => {
        const outline = outlineOf(values, every);
        expect(outline.length).toBe(Math.ceil(values.length / every));
        const there = (column: Float64Array) => column.filter((value) => !Number.isNaN(value));
        // an odd last stretch has room for one of its two
        const whole = values.subarray(0, Math.floor(outline.length / 2) * 2 * every);
        if (there(whole).length === 0) return;
        const [kept, all] = [there(outline), there(whole)];
        expect(Math.max(...kept)).toBeGreaterThanOrEqual(Math.max(...all));
        expect(Math.min(...kept)).toBeLessThanOrEqual(Math.min(...all));
        outline.forEach((value, at) => {
          if (Number.isNaN(value)) return;
          const from = Math.floor(at / 2) * 2 * every;
          expect(values.slice(from, from + 2 * every)).toContain(value);
        });
      }),
    ));

  it('of few points is the line itself, and of nothing but gaps nothing', () => {
    const values = Float64Array.of(1, NaN, 3);
    expect(outlineOf(values, 1)).toBe(values);
    expect(Array.from(outlineOf(new Float64Array(6).fill(NaN), 2))).toEqual([NaN, NaN, NaN]);
  });
});
