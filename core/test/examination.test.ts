import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { powersOf } from '../src/examine/periodogram.js';
import { regressLong } from '../src/examine/longRegression.js';
import { regress } from '../src/examine/regression.js';
import { shuffled } from '../src/examine/shuffled.js';
import type { ProfileBy } from '../src/examine/profile.js';
import * as core from '../src/index.js';
import { column, expectColumn, readReference, type Listed, type ReferenceCase } from './referenceCases.js';

/* Definitions, section 10, against numbers worked out independently. */

type Figures = { [name: string]: number | string | null | Listed | Figures | Figures[] };

/** Holds each figure that is expected against the one of the same name; of a list each value, of a part each figure. */
function expectFigures(
  label: string,
  got: object,
  want: Figures,
  toleranceOf: (name: string) => { rel: number; abs: number },
): void {
  for (const [name, wanted] of Object.entries(want)) {
    const value = (got as Record<string, unknown>)[name];
    const where = `${label}: ${name}`;
    if (typeof wanted === 'number' || wanted === null)
      expectColumn(where, [value === undefined ? NaN : (value as number)], [wanted], toleranceOf(name));
    else if (typeof wanted === 'string') expect(value, where).toBe(wanted);
    else if (!Array.isArray(wanted)) expectFigures(where, value as object, wanted, toleranceOf);
    else if (wanted.every((one) => one === null || typeof one === 'number'))
      expectColumn(where, value as ArrayLike<number>, wanted as Listed, toleranceOf(name));
    else {
      const parts = value as object[];
      expect(parts.length, where).toBe(wanted.length);
      wanted.forEach((one, index) => expectFigures(`${where} ${index}`, parts[index], one as Figures, toleranceOf));
    }
  }
}

interface Input {
  x: Listed;
  y?: Listed;
  time?: number[];
  tape?: { zone: string; session: { open: string; close: string; days: string[]; closed: string[] } | null };
}
type Request = { [name: string]: number | string | boolean | undefined };

function heldAgainst(file: string, answer: (input: Input, request: Request) => object): void {
  const { cases, toleranceOf } = readReference<ReferenceCase<Input, Request, Figures>>(file);
  describe(file, () => {
    it.each(cases)('$name', ({ input, requests, expected, tolerance }) =>
      requests.forEach((request, index) =>
        expectFigures(JSON.stringify(request), answer(input, request), expected[index], (name) =>
          toleranceOf(name, tolerance),
        ),
      ),
    );
  });
}

type Options<Of extends (...args: never[]) => unknown> = Parameters<Of>[1];
heldAgainst('examine_summary', ({ x }) => core.summary(column(x)));
heldAgainst('examine_adf', ({ x }, options) => core.adf(column(x), options as Options<typeof core.adf>));
heldAgainst('examine_kpss', ({ x }, options) => core.kpss(column(x), options as Options<typeof core.kpss>));
heldAgainst('examine_variance_ratio', ({ x }, { q }) => core.varianceRatio(column(x), q as number));
heldAgainst('examine_arch', ({ x }, { q }) => core.archTest(column(x), q as number));
heldAgainst('examine_ccf', ({ x, y }, { K }) => core.crossCorrelation(column(x), column(y!), K as number));
heldAgainst('examine_cycles', ({ x }) => core.cycles(column(x)));
heldAgainst('examine_seasonal', ({ x }, { s, by }) => {
  const { shape, ...figures } = core.seasonalShape(column(x), s as number, { by: by as 'difference' | 'ratio' });
  return { ...figures, shape: figures.count < 2 * (s as number) ? NaN : shape };
});
heldAgainst('examine_profile', ({ time, x, tape }, { by, interval }) => {
  const { zone, session } = tape!;
  const calendar = core.makeCalendar({
    zone,
    ...(session && { session: `${session.open}-${session.close}`, weekdays: session.days, closed: session.closed }),
  });
  const options = { by: by as ProfileBy, interval: interval as number | undefined };
  return core.profile(Float64Array.from(time!), column(x), calendar, options);
});

it('a regression by sums of products is that by reflections', () => {
  const random = fc.integer({ min: 1, max: 1e6 });
  fc.assert(
    fc.property(random, fc.integer({ min: 0, max: 6 }), fc.boolean(), (seed, lags, trend) => {
      const steps = shuffled(
        Float64Array.from({ length: 400 }, (_, i) => (i % 29) - 14 + ((i * i) % 13) / 7),
        seed,
      );
      let level = 0;
      const x = steps.map((step) => (level = 0.9 * level + step));
      const rows = x.length - 1 - lags;
      const of = (at: (t: number) => number) => Float64Array.from({ length: rows }, (_, row) => at(lags + 1 + row));
      const change = (t: number) => x[t] - x[t - 1];
      const columns = [of(() => 1), ...(trend ? [of((t) => t)] : []), of((t) => x[t - 1])];
      for (let lag = 1; lag <= lags; lag++) columns.push(of((t) => change(t - lag)));
      const plain = regress(columns, of(change), trend ? 2 : 1);
      const long = regressLong(x, lags, trend);
      expect(long.coefficient).toBeCloseTo(plain.coefficient, 9);
      expect(long.error).toBeCloseTo(plain.error, 9);
      for (let k = 1; k < plain.left.length; k++) expect(long.left[k] / plain.left[k]).toBeCloseTo(1, 8);
    }),
    { numRuns: 50 },
  );
});

it('powers of a long column by fast transforms are those of each frequency by itself', () =>
  fc.assert(
    fc.property(fc.integer({ min: 4097, max: 5200 }), fc.integer(), (rows, seed) => {
      const x = Float64Array.from({ length: rows }, (_, t) => Math.sin(t * 0.7) + ((t * 7919 + seed) % 101) / 50);
      const powers = powersOf(x, 40);
      for (const j of [1, 7, 40]) {
        let [real, imaginary] = [0, 0];
        for (let t = 0; t < rows; t++) {
          real += x[t] * Math.cos((2 * Math.PI * j * t) / rows);
          imaginary += x[t] * Math.sin((2 * Math.PI * j * t) / rows);
        }
        expect(powers[j - 1]).toBeCloseTo((real ** 2 + imaginary ** 2) / rows, 6);
      }
    }),
    { numRuns: 10 },
  ));
