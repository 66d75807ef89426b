import { describe, expect, it } from 'vitest';
import { accuracy, type AccuracyChoices, type Measures } from '../src/project/accuracy.js';
import { fitArima } from '../src/project/arima/arima.js';
import { modelText, type ArimaModel } from '../src/project/model.js';
import type { Projection } from '../src/project/project.js';
import { residualCheck } from '../src/project/residualCheck.js';
import { givenOf, modelOf, type WantedModel } from './projectionModels.js';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

/* Definitions, sections 11 and 12: projections held against what came, and what is left of a series. */

interface AccuracyCase {
  name: string;
  input: { x: Listed };
  options: AccuracyChoices;
  expected: { origins: number[]; scale: number | null; models: WantedModel[] };
  tolerance?: Record<string, { rel: number; abs: number }>;
}

describe('project_accuracy', () => {
  const { cases, toleranceOf } = readReference<AccuracyCase>('project_accuracy');
  it.each(cases)('$name', ({ input, options, expected, tolerance }) => {
    const whole = {
      ...(tolerance && 'rel' in tolerance && { rest: tolerance as unknown as { rel: number; abs: number } }),
    };
    const same = (name: string, got: ArrayLike<number>, want: Listed) =>
      expectColumn(name, got, want, tolerance?.[name.split(' ').at(-1)!] ?? whole.rest ?? toleranceOf(name));
    const given = expected.models.map(givenOf);
    const models = expected.models.map(modelOf);
    const found = accuracy(column(input.x), models, { ...options, given });
    expect(found.origins).toEqual(expected.origins);
    same('scale', [found.scale], [expected.scale]);
    expected.models.forEach((wanted, at) => {
      const { ahead, all, last, refused } = found.models[at];
      const label = modelText(models[at]);
      if (wanted.refused !== undefined) return expect(refused, label).toBeDefined();
      expect(refused, label).toBeUndefined();
      for (const [name, figures] of Object.entries(wanted)) {
        if (!Array.isArray(figures) || !(name in ahead[0])) continue;
        same(
          `${label}: ${name}`,
          ahead.map((one) => one[name as keyof Measures]),
          figures as Listed,
        );
      }
      for (const [name, figure] of Object.entries(wanted.all as Record<string, number | null>))
        same(`${label}: all ${name}`, [all[name as keyof Measures]], [figure]);
      for (const [name, figures] of Object.entries(wanted.last as Record<string, Listed>))
        same(`${label}: last ${name}`, last![name as keyof Projection], figures);
      return undefined;
    });
  });
});

describe('project_residuals', () => {
  interface ResidualCase {
    tolerance?: undefined;
    name: string;
    input: { x: Listed };
    requests: never[];
    expected: WantedModel[];
  }
  const { cases, toleranceOf } = readReference<ResidualCase>('project_residuals');
  it.each(cases)('$name', ({ input, expected }) => {
    for (const wanted of expected) {
      const model = modelOf(wanted) as ArimaModel;
      const { residuals } = fitArima(column(input.x), model, givenOf(wanted));
      const found = residualCheck(residuals, model);
      const tests = { ljungbox: found.ljungBox, jarquebera: found.jarqueBera, arch: found.arch };
      expectColumn('residuals', residuals, wanted.residuals as Listed, toleranceOf('residuals'));
      expectColumn('acf', found.acf, wanted.acf as Listed, toleranceOf('acf'));
      for (const [test, figures] of Object.entries(tests))
        for (const [name, value] of Object.entries(wanted[test] as Record<string, number | null>))
          expectColumn(`${test} ${name}`, [(figures as Record<string, number>)[name]], [value], toleranceOf(name));
    }
  });
});
