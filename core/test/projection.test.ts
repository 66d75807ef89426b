import { describe, expect, it } from 'vitest';
import { fitArima, ModelRefusal, project, type Coefficients, type ModelFields, type Projection } from '../src/index.js';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

/* Definitions, section 11, against numbers worked out independently. */

interface Case {
  name: string;
  input: { x: Listed };
  horizon: number;
  expected: (ModelFields & Record<string, unknown>)[];
  tolerance?: Record<string, { rel: number; abs: number }>;
}

const PARTS = ['value', 'deviation', 'low80', 'high80', 'low95', 'high95'] as const satisfies (keyof Projection)[];

describe.each(['project_simple', 'project_arima'])('%s', (file) => {
  const { cases, toleranceOf } = readReference<Case & { requests: never[] }>(file);
  it.each(cases)('$name', ({ input, horizon, expected, tolerance }) => {
    const x = column(input.x);
    for (const wanted of expected) {
      const label = JSON.stringify(wanted).slice(0, 120);
      const own = { ...tolerance, ...(wanted.tolerance as object) };
      const same = (name: string, got: ArrayLike<number>, want: Listed) =>
        expectColumn(`${label}: ${name}`, got, want, toleranceOf(name, own));
      if (wanted.refused !== undefined) {
        const fit = () => (wanted.model === 'arima' ? fitArima(x, wanted) : project(x, wanted, horizon));
        expect(fit, label).toThrow(ModelRefusal);
        continue;
      }
      const found = project(x, wanted, ((wanted.value ?? [0]) as Listed).length);
      if (wanted.model === 'arima') {
        const fitted = fitArima(x, wanted);
        const isFitted = wanted.coefficients === undefined;
        expect([fitted.N, fitted.k], label).toEqual([wanted.N, wanted.k]);
        if (isFitted) {
          // a fit may be better than the one that was found, but not worse
          expect(fitted.L, label).toBeGreaterThan((wanted.L as number) - toleranceOf('L', own).abs);
          for (const name of ['AIC', 'AICc', 'BIC'] as const)
            expect(fitted[name], name).toBeLessThan((wanted[name] as number) + toleranceOf(name, own).abs);
        } else {
          for (const name of ['L', 'AIC', 'AICc', 'BIC'] as const)
            same(name, [fitted[name]], [wanted[name] as number | null]);
          if (wanted.residuals) same('residuals', fitted.residuals, wanted.residuals as Listed);
        }
        if (isFitted && wanted.sharp === false) continue;
        if (wanted.sigma2 !== undefined) same('sigma2', [fitted.sigma2], [wanted.sigma2 as number]);
        for (const [name, value] of Object.entries((wanted.found ?? {}) as Partial<Coefficients>))
          same(name, [fitted.coefficients[name as keyof Coefficients]].flat(), [value].flat() as Listed);
        if (wanted.errors) same('errors', fitted.errors, wanted.errors as Listed);
      }
      for (const part of PARTS) if (wanted[part]) same(part, found[part], wanted[part] as Listed);
    }
  });
});
