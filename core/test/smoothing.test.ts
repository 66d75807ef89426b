import { describe, expect, it } from 'vitest';
import { fitCroston, fitSmoothing, ModelRefusal, project, rollingOrigin, type Projection } from '../src/index.js';
import { modelText, parseModel } from '../src/project/model.js';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

/* Definitions, section 15, against numbers worked out independently. */

type Figures = Record<string, number | number[] | null>;
type Within = { rel: number; abs: number };
type Tolerances = Record<string, Within | Record<string, Within>>;
interface Wanted {
  text: string;
  refused?: string;
  sharp?: boolean;
  exact?: boolean;
  without_effect?: string[];
  value?: Listed;
  candidates?: Figures[];
  best?: string;
  season_found?: number | null;
  tolerance?: Tolerances;
  [figure: string]: unknown;
}
interface Case {
  name: string;
  input: { x: Listed };
  horizon: number;
  requests: never[];
  expected: Wanted[];
  tolerance?: Record<string, { rel: number; abs: number }>;
}

const PARTS = ['value', 'deviation', 'low80', 'high80', 'low95', 'high95'] as const satisfies (keyof Projection)[];
const CRITERIA = ['L', 'AIC', 'AICc', 'BIC'] as const;

describe('project_smoothing', () => {
  const { cases, toleranceOf } = readReference<Case>('project_smoothing');
  it.each(cases)('$name', ({ input, horizon, expected, tolerance }) => {
    const x = column(input.x);
    for (const wanted of expected) {
      const { text } = wanted;
      expect(modelText(parseModel(text))).toBe(text);
      if (wanted.refused !== undefined) {
        expect(() => project(x, text, horizon), text).toThrow(ModelRefusal);
        continue;
      }
      const within = (name: string, part?: string): Within => {
        const own = wanted.tolerance?.[name];
        if (own && part !== undefined) return (own as Record<string, Within>)[part] ?? toleranceOf(name);
        if (own) return own as Within;
        return 'rel' in (wanted.tolerance ?? {})
          ? (wanted.tolerance as unknown as Within)
          : toleranceOf(name, tolerance);
      };
      const same = (name: string, got: ArrayLike<number>, want: Listed, part?: string) =>
        expectColumn(`${text}: ${name}`, got, want, within(name, part));
      const found = fitSmoothing(x, text);
      if (wanted.best !== undefined) {
        expect(found.model).toBe(wanted.best);
        expect(found.candidates!.map(({ model }) => model)).toEqual(wanted.candidates!.map((one) => one.text));
        if (wanted.season_found !== undefined) expect(found.season_found).toBe(wanted.season_found);
        found.candidates!.forEach((one, at) => {
          for (const name of CRITERIA)
            if (name in wanted.candidates![at]) same(name, [one[name]], [wanted.candidates![at][name] as number]);
        });
      } else {
        expect([found.n, found.k, found.exact], text).toEqual([wanted.n, wanted.k, wanted.exact === true]);
        for (const name of CRITERIA) same(name, [found[name]], [wanted[name] as number | null]);
        if (wanted.sharp === false) continue;
        same('sigma2', [found.sigma2], [wanted.sigma2 as number]);
        for (const [name, value] of Object.entries((wanted.found ?? {}) as Figures))
          if (!wanted.without_effect?.includes(name))
            same('found', [found.found[name as 'level']!], [value as number], name);
        for (const side of ['start', 'end'] as const)
          for (const [name, value] of Object.entries((wanted[side] ?? {}) as Figures))
            same(side, [found[side][name as 'level']!].flat(), [value].flat(), name);
        if (wanted.fitted) same('fitted', found.fitted, wanted.fitted as Listed);
      }
      const ahead = project(x, text, horizon);
      for (const part of PARTS) if (wanted[part]) same(part, ahead[part], wanted[part] as Listed);
    }
  });
});

describe('project_croston', () => {
  const { cases, toleranceOf } = readReference<Case>('project_croston');
  it.each(cases)('$name', ({ input, horizon, expected, tolerance }) => {
    const x = column(input.x);
    for (const wanted of expected) {
      const { text } = wanted;
      expect(modelText(parseModel(text))).toBe(text);
      if (wanted.refused !== undefined) {
        expect(() => project(x, text, horizon), text).toThrow(ModelRefusal);
        continue;
      }
      const tolerances = { ...tolerance, ...(wanted.tolerance as Record<string, Within>) };
      const same = (name: string, got: ArrayLike<number>, want: Listed) =>
        expectColumn(`${text}: ${name}`, got, want, toleranceOf(name, tolerances));
      const found = fitCroston(x, text);
      for (const name of ['found', 'size', 'gap'] as const) same(name, [found[name]], [wanted[name] as number]);
      same('fitted', found.fitted, wanted.fitted as Listed);
      const ahead = project(x, text, horizon);
      for (const part of PARTS) if (wanted[part]) same(part, ahead[part], wanted[part] as Listed);
    }
  });
});

it('a backtest projects over the rows that lie between values', () => {
  // a season of 4 with every seventh value missing: only a model that keeps its rows has no error
  const season = [10, 20, 15, 40];
  const x = Float64Array.from({ length: 60 }, (_, row) => (row % 7 === 3 ? NaN : 100 + row + season[row % 4]));
  const { models } = rollingOrigin(x, ['last', 'smooth trend season 4', 'smooth season 4'], { horizon: 5, refit: 4 });
  for (const { refused, all } of models.slice(1)) {
    expect(refused).toBeUndefined();
    expect(all.rmse).toBeLessThan(1e-9);
  }
  expect(models[0].all.rmse).toBeGreaterThan(5);
});
