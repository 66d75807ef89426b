import { describe, expect, it } from 'vitest';
import { fitArima } from '../src/project/arima/arima.js';
import { modelText } from '../src/project/model.js';
import { ModelRefusal, type Coefficients } from '../src/project/outlook.js';
import { project, projectionOf, type Projection } from '../src/project/project.js';
import { validOf } from '../src/numeric/deviations.js';
import { givenOf, modelOf, type WantedModel } from './projectionModels.js';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

/* Definitions, section 11, against numbers worked out independently. */

interface Case {
  name: string;
  input: { x: Listed };
  horizon: number;
  expected: WantedModel[];
  tolerance?: Record<string, { rel: number; abs: number }>;
}

const PARTS = ['value', 'deviation', 'low80', 'high80', 'low95', 'high95'] as const satisfies (keyof Projection)[];

describe.each(['project_simple', 'project_arima'])('%s', (file) => {
  const { cases, toleranceOf } = readReference<Case & { requests: never[] }>(file);
  it.each(cases)('$name', ({ input, horizon, expected, tolerance }) => {
    const x = validOf(column(input.x));
    for (const wanted of expected) {
      const model = modelOf(wanted);
      const label = modelText(model);
      const own = { ...tolerance, ...(wanted.tolerance as object) };
      const same = (name: string, got: ArrayLike<number>, want: Listed) =>
        expectColumn(`${label}: ${name}`, got, want, toleranceOf(name, own));
      if (wanted.refused !== undefined) {
        const fit = () => (model.kind === 'arima' ? fitArima(x, model, givenOf(wanted)) : project(x, model, horizon));
        expect(fit, label).toThrow(ModelRefusal);
        continue;
      }
      if (model.kind !== 'arima') {
        const found = project(x, model, horizon);
        for (const part of PARTS) if (wanted[part]) same(part, found[part], wanted[part] as Listed);
        continue;
      }
      const logs = model.isOfLogs ? x.map(Math.log) : x;
      const fitted = fitArima(logs, model, givenOf(wanted), { wantsErrors: true });
      const isFitted = wanted.coefficients === undefined;
      const criteria = { AIC: fitted.aic, AICc: fitted.aicc, BIC: fitted.bic };
      expect([fitted.count, fitted.parameters], label).toEqual([wanted.N, wanted.k]);
      if (isFitted) {
        // a fit may be better than the one that was found, but not worse
        expect(fitted.logLikelihood, label).toBeGreaterThan((wanted.L as number) - toleranceOf('L', own).abs);
        for (const [name, value] of Object.entries(criteria))
          expect(value, name).toBeLessThan((wanted[name] as number) + toleranceOf(name, own).abs);
      } else {
        same('L', [fitted.logLikelihood], [wanted.L as number]);
        for (const [name, value] of Object.entries(criteria)) same(name, [value], [wanted[name] as number | null]);
        if (wanted.residuals) same('residuals', fitted.residuals, wanted.residuals as Listed);
      }
      if (isFitted && wanted.sharp === false) continue;
      if (wanted.sigma2 !== undefined) same('sigma2', [fitted.variance], [wanted.sigma2 as number]);
      for (const [name, value] of Object.entries((wanted.found ?? {}) as Partial<Coefficients>))
        same(name, [fitted.coefficients[name as keyof Coefficients]].flat(), [value].flat() as Listed);
      if (wanted.errors) same('errors', fitted.errors, wanted.errors as Listed);
      const found = projectionOf(fitted, model, (wanted.value as Listed).length);
      for (const part of PARTS) if (wanted[part]) same(part, found[part], wanted[part] as Listed);
    }
  });
});
