import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseModel, project, sharesAhead } from '@jaunty-ledger/core';

const texts = ['last', 'mean', 'trend', 'growth 2'];
const models = texts.map(parseModel);
const positive = fc.array(fc.double({ min: 1, max: 1000, noNaN: true }), { minLength: 6, maxLength: 30 });

describe('an item as a share of its driver', () => {
  it('three observations give the four known values by themselves, and twenty outcomes', () => {
    const { outcomes, quartiles, rows } = sharesAhead(
      Float64Array.of(1000, 1200, 1100),
      Float64Array.of(5000, 6000, 5500),
      models,
      1,
    );
    expect([rows, outcomes.length]).toEqual([3, 20]);
    expect(outcomes.slice(0, 4).map(({ value }) => Math.round(value * 10) / 10)).toEqual([1100, 1100, 1200, 1153.7]);
    // the share stays a fifth by each model, so that each share of a driver is a fifth of that one's projection
    const drivers = models.map((model) => project(Float64Array.of(5000, 6000, 5500), model, 1).value[0]);
    for (const { driver, value } of outcomes.slice(4)) expect(value).toBeCloseTo(drivers[driver!] / 5, 6);
    expect(quartiles[0]).toBeLessThanOrEqual(quartiles[1]);
    expect(quartiles[1]).toBeLessThanOrEqual(quartiles[2]);
  });

  it('is the projection of the share times that of the driver, on rows that have both', () =>
    fc.assert(
      fc.property(positive, fc.nat(4), fc.integer({ min: 1, max: 5 }), (driver, gap, horizon) => {
        const item = driver.map((value, row) => value * (0.2 + 0.1 * Math.sin(row)));
        const [y, x] = [Float64Array.from(item), Float64Array.from(driver)];
        y[gap] = NaN;
        const both = (values: Float64Array) => values.filter((_, row) => row !== gap);
        const share = both(y).map((value, row) => value / both(x)[row]);
        const { outcomes, rows, shares } = sharesAhead(y, x, models, horizon);
        expect(rows).toBe(driver.length - 1);
        const ahead = (values: Float64Array, model: number) =>
          project(values, models[model], horizon).value[horizon - 1];
        for (const { model, driver: other, value, factors } of outcomes) {
          if (factors) {
            expect(factors.share * factors.driver).toBe(value);
            expect(factors.share).toBeCloseTo(ahead(share, model), 10);
          }
          expect(value).toBeCloseTo(
            other === undefined ? ahead(both(y), model) : ahead(share, model) * ahead(both(x), other),
            8,
          );
        }
        shares.forEach((one, model) => {
          if (typeof one !== 'string' && !Number.isNaN(one.forecast))
            expect(one.forecast).toBeCloseTo(ahead(share, model), 10);
        });
      }),
    ));

  it('has ends that are narrow where the two move as one, and wider where they do not', () => {
    const driver = Float64Array.from({ length: 200 }, (_, row) => 1000 + 30 * Math.sin(row * row));
    const width = (item: Float64Array) => {
      const [last] = sharesAhead(item, driver, [parseModel('last')], 1).shares;
      if (typeof last === 'string') throw new Error(last);
      expect(last.value).toBeCloseTo(item[199] / driver[199], 12);
      expect(last.low95).toBeLessThan(last.low80);
      expect(last.high80).toBeLessThan(last.high95);
      return last.high95 - last.low95;
    };
    const together = width(driver.map((value) => 0.3 * value + 1));
    const apart = width(Float64Array.from({ length: 200 }, (_, row) => 300 + 9 * Math.sin(row * row + 2)));
    expect(together).toBeLessThan(apart / 5);
  });

  it('says at a model why it has none, and the rest stands', () => {
    const { shares, outcomes } = sharesAhead(Float64Array.of(-1, 2, 3), Float64Array.of(4, 5, 6), models, 1);
    expect(shares[3]).toMatch(/not above 0/);
    expect(outcomes.some(({ model, driver }) => model === 3 && driver === undefined)).toBe(false);
    expect(outcomes.filter(({ driver }) => driver === 3).length).toBe(3);
    expect(sharesAhead(Float64Array.of(1, 2, 3), Float64Array.of(4, 0, 6), models, 1).outcomes.length).toBe(4);
  });
});
