import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { autocorrelation, decimalsOf, firstRowFrom, GrowingColumn } from '@jaunty-ledger/core';
import { chiSquareTail } from '../src/numeric/tails.js';
import { firstFrom } from '../src/numeric/search.js';
import { fitLine } from '../src/memory/leastSquares.js';
import { SortedValues } from '../src/windows/sortedValues.js';

/* The mathematics under the measures, by what is known of it. */

describe('the tail of chi-square', () => {
  const values = fc.double({ min: 1e-6, max: 200, noNaN: true });

  it('with two degrees is an exponential', () =>
    fc.assert(
      fc.property(values, (x) => {
        const wanted = Math.exp(-x / 2);
        expect(Math.abs(chiSquareTail(x, 2) - wanted)).toBeLessThanOrEqual(1e-12 * wanted + 1e-15);
      }),
    ));

  it('falls with the value, from 1 towards 0, and keeps the digits of small chances', () => {
    expect(chiSquareTail(0, 5)).toBe(1);
    expect(chiSquareTail(NaN, 5)).toBeNaN();
    expect(chiSquareTail(1000, 2)).toBeCloseTo(Math.exp(-500), 230);
    expect(chiSquareTail(3.841458820694124, 1)).toBeCloseTo(0.05, 12);
  });
});

describe('autocorrelation', () => {
  const series = fc
    .array(fc.oneof({ weight: 9, arbitrary: fc.integer({ min: -50, max: 50 }) }, fc.constant(NaN)), {
      minLength: 30,
      maxLength: 120,
    })
    .filter((values) => new Set(values).size > 3);

  it('lies within -1 and 1, begins with 1, and does not hang on where the series lies or how it is scaled', () =>
    fc.assert(
      fc.property(series, fc.integer({ min: -1e9, max: 1e9 }), (values, shift) => {
        const x = Float64Array.from(values);
        const { acf, pacf, count, missing } = autocorrelation(x, 8);
        expect(count + missing).toBe(x.length);
        expect([acf[0], pacf[0]]).toEqual([1, 1]);
        for (const r of acf) expect(Math.abs(r)).toBeLessThanOrEqual(1 + 1e-12);
        const moved = autocorrelation(
          x.map((value) => 4 * value + shift),
          8,
        ).acf;
        moved.forEach((r, k) => expect(r).toBeCloseTo(acf[k], 9));
      }),
    ));

  it('that lags between explain is taken out of the partial one: both solve the same equations', () =>
    fc.assert(
      fc.property(series, fc.integer({ min: 1, max: 5 }), (values, order) => {
        const { acf, pacf } = autocorrelation(Float64Array.from(values), order);
        // the last weight of the regression on `order` lags, by elimination
        const rows = Array.from({ length: order }, (_, i) => [
          ...Array.from({ length: order }, (_unused, j) => acf[Math.abs(i - j)]),
          acf[i + 1],
        ]);
        for (let i = 0; i < order; i++)
          for (let j = i + 1; j < order; j++) {
            const factor = rows[j][i] / rows[i][i];
            for (let k = i; k <= order; k++) rows[j][k] -= factor * rows[i][k];
          }
        expect(pacf[order]).toBeCloseTo(rows[order - 1][order] / rows[order - 1][order - 1], 8);
      }),
    ));

  it('of chance alone seldom leaves its band, and Ljung and Box do not mind it', () => {
    let state = 7;
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
    const x = Float64Array.from({ length: 5000 }, () => random() + random() + random() - 1.5);
    const { acf, band, ljungBox } = autocorrelation(x, 100);
    expect(acf.subarray(1).filter((r) => Math.abs(r) > band).length).toBeLessThan(12);
    expect(ljungBox[99].p).toBeGreaterThan(0.01);
  });
});

describe('a straight line', () => {
  it('through points on one is that line, without an error', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 3, max: 40 }),
        fc.integer({ min: -9, max: 9 }),
        fc.integer({ min: -9, max: 9 }),
        (count, slope, at) => {
          const x = Float64Array.from({ length: count }, (_, i) => i);
          const line = { slope: NaN, error: NaN, rsquared: NaN };
          fitLine(
            x,
            x.map((value) => at + slope * value),
            count,
            line,
          );
          expect(line.slope).toBeCloseTo(slope, 10);
          expect(line.error).toBeCloseTo(0, 6);
          if (slope !== 0) expect(line.rsquared).toBeCloseTo(1, 10);
          else expect(line.rsquared).toBeNaN();
        },
      ),
    ));

  it('needs three points', () => {
    const line = { slope: 1, error: 1, rsquared: 1 };
    fitLine(Float64Array.of(1, 2), Float64Array.of(1, 2), 2, line);
    expect(line).toEqual({ slope: NaN, error: NaN, rsquared: NaN });
  });
});

describe('columns', () => {
  const rising = fc
    .array(fc.integer({ min: 0, max: 60 }), { maxLength: 80 })
    .map((values) => Float64Array.from(values.sort((a, b) => a - b)));

  it('are searched for the first row that is not less', () =>
    fc.assert(
      fc.property(rising, fc.integer({ min: -5, max: 65 }), fc.nat(), (column, least, start) => {
        const from = column.length === 0 ? 0 : start % column.length;
        const wanted = column.findIndex((value, row) => row >= from && value >= least);
        const row = wanted < 0 ? column.length : wanted;
        expect(firstRowFrom(column, least, from)).toBe(row);
        if (column.length > 0) expect(firstFrom(column, least, from)).toBe(row);
      }),
    ));

  it('grow as they are filled, singly and by stretches', () =>
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.integer(), fc.array(fc.integer(), { maxLength: 9 }))), (parts) => {
        const column = new GrowingColumn(1);
        for (const part of parts) {
          if (Array.isArray(part)) column.append(Float64Array.from(part));
          else column.push(part);
        }
        expect([...column.toArray()]).toEqual(parts.flat());
      }),
    ));

  it('of decimals tell how many places they have; those that have none end the search', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -1e6, max: 1e6 }), { minLength: 1 }),
        fc.integer({ min: 0, max: 6 }),
        (whole, places) => {
          const column = Float64Array.from(whole, (value) => value / 10 ** places);
          const found = decimalsOf(column);
          expect(found).toBeLessThanOrEqual(places);
          for (const value of column) expect(Number(value.toFixed(found))).toBe(value);
        },
      ),
    );
    expect(decimalsOf(Float64Array.of(1 / 3))).toBe(10);
    expect(decimalsOf(Float64Array.of(NaN, Infinity, 1.5))).toBe(1);
  });

  it('of a window keep their order while values come, go and change, also where they fill several blocks', () =>
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -99, max: 99 }), { minLength: 1, maxLength: 60 }),
        fc.integer({ min: 1, max: 20 }),
        fc.constantFrom(0, 3000),
        (values, length, more) => {
          const sorted = new SortedValues();
          const held = Array.from({ length: more }, (_, i) => (i * 7919) % 1000);
          for (const value of held) sorted.insert(value);
          values.forEach((value, t) => {
            const gone = held.length - more >= length ? held.splice(more, 1)[0] : undefined;
            held.push(value);
            if (gone === undefined) sorted.insert(value);
            else if (t % 2 === 0) sorted.replace(gone, value);
            else {
              sorted.remove(gone);
              sorted.insert(value);
            }
          });
          const wanted = [...held].sort((a, b) => a - b);
          expect(sorted.size).toBe(wanted.length);
          expect(Array.from(wanted.keys(), (place) => sorted.at(place))).toEqual(wanted);
        },
      ),
      { numRuns: 40 },
    ));
});
