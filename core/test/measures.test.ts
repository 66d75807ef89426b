import { describe, expect, it } from 'vitest';
import { catalogue, evaluate, makeCalendar, type Frame } from '@jaunty-ledger/core';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

interface Wanted {
  aggregate?: string;
  function?: string;
  k?: number;
  seconds?: number;
  p?: number;
  divisor?: string;
  against?: string;
  values: Listed;
}
interface Generator {
  n: number;
  seed: number;
  spike_every: number;
}
interface WindowSpec {
  bars?: number;
  seconds?: number;
  this?: string;
  all?: boolean;
  skip?: number;
  placed?: string;
  from?: number;
}
interface MeasureCase {
  name: string;
  input: ({ x: Listed; time?: Listed } | Generator) & {
    tape?: { zone: string; session: null | { open: string; close: string; days: string[]; closed: string[] } };
  };
  window?: WindowSpec;
  rows?: number[];
  expected: Wanted[];
  tolerance?: Record<string, { rel: number; abs: number }>;
}

/** The column that a case of the files tells in words. */
function generated({ n, seed, spike_every }: Generator): Float64Array {
  let s = seed;
  return Float64Array.from({ length: n }, (_, i) => {
    s = (s * 16807) % 2147483647;
    return i % spike_every === spike_every - 1 ? 1e12 : 1e9 + (s % 3);
  });
}

function frameOf({ input }: MeasureCase): Frame {
  const { tape } = input;
  const x = 'x' in input ? column(input.x) : generated(input);
  const time = 'time' in input && input.time ? column(input.time) : x.map((_, row) => row * 60e6);
  const session = tape?.session;
  const calendar = makeCalendar({
    zone: tape?.zone ?? 'UTC',
    ...(session && { session: `${session.open}-${session.close}`, weekdays: session.days, closed: session.closed }),
  });
  return { time, columns: { x }, calendar };
}

function expectFormula(
  label: string,
  formula: string,
  frame: Frame,
  { values }: Wanted,
  rows: number[] | undefined,
  tolerance: { rel: number; abs: number },
) {
  const [{ values: all }] = evaluate([formula], frame);
  expectColumn(`${label}: ${formula}`, rows ? rows.map((row) => all[row]) : all, values, tolerance);
}

const optionsText = (options: Record<string, unknown>) =>
  Object.entries(options)
    .filter(([, value]) => value !== undefined)
    .map(([name, value]) => `, ${name}: ${String(value)}`)
    .join('');

function windowText({ bars, seconds, this: period, all, ...options }: WindowSpec): string {
  const size = bars ? `${bars} bars` : seconds ? `${seconds} seconds` : all ? 'all' : `this ${period}`;
  return size + optionsText({ ...options });
}

describe.each(['windows_bars', 'windows_time', 'windows_hard'])('%s', (file) => {
  const { cases, toleranceOf } = readReference<MeasureCase>(file);
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    const frame = frameOf(example);
    for (const wanted of example.expected) {
      const { aggregate, p, divisor, against } = wanted;
      if (!catalogue.has(aggregate!)) continue;
      const formula = `${aggregate}(x, ${windowText(example.window!)}${optionsText({ p, divisor, against })})`;
      expectFormula(example.name, formula, frame, wanted, example.rows, toleranceOf(aggregate!, example.tolerance));
    }
  });
});

describe('moves', () => {
  const { cases, toleranceOf } = readReference<MeasureCase>('moves');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    for (const wanted of example.expected) {
      const name = wanted.function!;
      if (!catalogue.has(name)) continue;
      const back = wanted.seconds ? `${wanted.seconds} seconds` : wanted.k;
      expectFormula(example.name, `${name}(x, ${back})`, frameOf(example), wanted, undefined, toleranceOf(name));
    }
  });
});

describe('exponential', () => {
  const { cases, toleranceOf } = readReference<MeasureCase>('exponential');
  type Average = Wanted & {
    bars?: number;
    factor?: number;
    halflife_bars?: number;
    halflife_seconds?: number;
    from?: number;
    start?: string;
  };
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    for (const wanted of example.expected as Average[]) {
      const { bars, factor, halflife_bars, halflife_seconds, from, start } = wanted;
      const halflife = halflife_bars
        ? `${halflife_bars} bars`
        : halflife_seconds
          ? `${halflife_seconds} seconds`
          : undefined;
      const formula = `ema(x${bars ? `, ${bars} bars` : ''}${optionsText({ factor, halflife, from, start })})`;
      expectFormula(example.name, formula, frameOf(example), wanted, undefined, toleranceOf('ema'));
    }
  });
});

it('leaves the columns it is given as they were', () => {
  const frame: Frame = { time: Float64Array.of(0, 1, 2), columns: { x: Float64Array.of(1, NaN, 3) } };
  for (const { example } of catalogue.values()) evaluate([example.replace('close', 'x')], frame);
  expect(frame.columns.x).toEqual(Float64Array.of(1, NaN, 3));
});
