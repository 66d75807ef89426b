import { describe, expect, it } from 'vitest';
import { evaluate } from '../index.js';

/* Values that squares cannot hold: a result may be missing, but is never wrong. */

const columnOf = (formula: string, x: Float64Array) =>
  evaluate([`y = ${formula}`], {
    time: x.map((_, row) => row * 60e6),
    columns: { x, z: x.map((_, row) => row % 5) },
  })[0].values;

const SCALED = ['mean', 'sum', 'stdev', 'min', 'max', 'median', 'slope', 'slopeerror'];
const PURE = ['skewness', 'kurtosis', 'zscore', 'rsquared', 'tvalue'];

describe.each([8, 64, 500])('over %s bars', (bars) => {
  const plain = Float64Array.from({ length: 600 }, (_, row) => Math.sin(row * 1.7) + (row === 100 ? 1e6 : 0));

  it.each([1e150, 1e160, 1e300, 1e-160, 1e-300])('%s of a spike comes out right or missing', (unit) => {
    const x = plain.map((value) => value * (unit / (unit > 1 ? 1e6 : 1)));
    const back = (value: number) => value / (unit / (unit > 1 ? 1e6 : 1));
    for (const name of [...SCALED, ...PURE]) {
      const formula = `${name}(x, ${bars} bars)`;
      const [found, wanted] = [columnOf(formula, x), columnOf(formula, plain)];
      for (let row = 0; row < x.length; row++) {
        if (Number.isNaN(found[row])) continue;
        const value = SCALED.includes(name) ? back(found[row]) : found[row];
        expect(Math.abs(value - wanted[row]), `${formula} at ${row}: ${value} for ${wanted[row]}`).toBeLessThan(
          1e-6 * (Math.abs(wanted[row]) + 1),
        );
      }
    }
  });
});

it.each([
  ['99.7, 100.06, 100.42, …', (row: number) => Number((99.7 + 0.36 * row).toFixed(2))],
  ['0.1, 0.2, 0.3, …', (row: number) => Number((0.1 * (row + 1)).toFixed(1))],
  ['large and straight', (row: number) => 1e9 + row],
])('the line %s has no error and no t value', (_, at) => {
  const x = Float64Array.from({ length: 200 }, (__, row) => at(row));
  for (const bars of [3, 20, 150]) {
    expect([...new Set(columnOf(`slopeerror(x, ${bars} bars)`, x).slice(bars - 1))]).toEqual([0]);
    expect(columnOf(`tvalue(x, ${bars} bars)`, x).every(Number.isNaN)).toBe(true);
  }
});

it('the error of a nearly straight line is that of its residuals', () => {
  const residual = (row: number) => 1e-6 * [1, -1, -1, 1][row % 4];
  const x = Float64Array.from({ length: 40 }, (_, row) => 1000 + 3 * row + residual(row));
  const pp = (4 * (4 ** 2 - 1)) / 12;
  // over four rows in a row these residuals have no slope and no mean
  const wanted = Math.sqrt((4 * 1e-12) / 2 / pp);
  const found = columnOf('slopeerror(x, 4 bars)', x);
  for (let row = 3; row < 40; row += 4) expect(found[row] / wanted).toBeCloseTo(1, 4);
});
