import { describe, expect, it } from 'vitest';
import { fitArima, residualChecks, rollingOrigin, type ModelFields, type Projection } from '../src/index.js';
import type { AccuracyChoices, Measures } from '../src/project/accuracy.js';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

/* Definitions, sections 11 and 12: projections held against what came, and what is left of a series. */

interface AccuracyCase {
  name: string;
  input: { x: Listed };
  options: AccuracyChoices;
  expected: { origins: number[]; scale: number | null; models: (ModelFields & Record<string, unknown>)[] };
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
    const found = rollingOrigin(column(input.x), expected.models, options);
    expect(found.origins).toEqual(expected.origins);
    same('scale', [found.scale], [expected.scale]);
    expected.models.forEach((wanted, at) => {
      const { all, last, refused, model: label, ...ahead } = found.models[at];
      if (wanted.refused !== undefined) return expect(refused, label).toBeDefined();
      expect(refused, label).toBeUndefined();
      for (const [name, figures] of Object.entries(ahead))
        if (wanted[name]) same(`${label}: ${name}`, figures, wanted[name] as Listed);
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
    expected: (ModelFields & Record<string, unknown>)[];
  }
  const { cases, toleranceOf } = readReference<ResidualCase>('project_residuals');
  it.each(cases)('$name', ({ input, expected }) => {
    for (const wanted of expected) {
      const found = residualChecks(fitArima(column(input.x), wanted));
      for (const name of ['residuals', 'acf'] as const)
        expectColumn(name, found[name], wanted[name] as Listed, toleranceOf(name));
      for (const test of ['ljungbox', 'jarquebera', 'arch'] as const)
        for (const [name, value] of Object.entries(wanted[test] as Record<string, number | null>))
          expectColumn(`${test} ${name}`, [(found[test] as Record<string, number>)[name]], [value], toleranceOf(name));
    }
  });
});
