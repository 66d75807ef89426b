import { readFileSync } from 'node:fs';
import { expect } from 'vitest';

interface Tolerance {
  rel: number;
  abs: number;
}
type Tolerances = Record<string, Tolerance>;

/** One case of a reference file; README.md beside the files tells their layout. */
export interface ReferenceCase<Input, Request, Expected> {
  name: string;
  input: Input;
  requests: Request[];
  expected: Expected[];
  tolerance?: Tolerances;
}

interface ReferenceFile<Case> {
  tolerance: Tolerance & Tolerances;
  cases: Case[];
}

export function readReference<Case extends { tolerance?: Tolerances }>(name: string) {
  const path = new URL(`./reference/${name}.json`, import.meta.url);
  const file = JSON.parse(readFileSync(path, 'utf8')) as ReferenceFile<Case>;
  const toleranceOf = (column: string, own?: Tolerances): Tolerance =>
    own?.[column] ?? file.tolerance[column] ?? file.tolerance;
  return { cases: file.cases, toleranceOf };
}

export type Listed = (number | null)[];

/** A column as the files write it: `null` is missing. */
export const column = (values: Listed): Float64Array => Float64Array.from(values, (value) => value ?? NaN);

/** Passes where every value lies within abs + rel |want|, and the same rows are missing. */
export function expectColumn(label: string, got: ArrayLike<number>, want: Listed, { rel, abs }: Tolerance): void {
  expect(got.length, `${label}: rows`).toBe(want.length);
  const wrong: string[] = [];
  want.forEach((wanted, row) => {
    const value = got[row];
    const passes = wanted === null ? Number.isNaN(value) : Math.abs(value - wanted) <= abs + rel * Math.abs(wanted);
    if (!passes) wrong.push(`row ${row}: got ${value}, want ${wanted}`);
  });
  expect(wrong, label).toEqual([]);
}
