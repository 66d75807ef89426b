import { describe, expect, it } from 'vitest';
import { autocorrelation, catalogue, evaluate, makeCalendar, type Frame } from '@jaunty-ledger/core';
import { column, expectColumn, readReference, type Listed } from './referenceCases.js';

interface Wanted {
  aggregate?: string;
  function?: string;
  k?: number;
  to?: number;
  seconds?: number;
  months?: number;
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
  months?: number;
  this?: string;
  all?: boolean;
  skip?: number;
  placed?: string;
  from?: number;
}
interface MeasureCase {
  name: string;
  input: ({ x: Listed; y?: Listed; time?: Listed } | Generator) & {
    tape?: { zone: string; session: null | { open: string; close: string; days: string[]; closed: string[] } };
  };
  interval?: Frame['interval'];
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

function frameOf({ input, interval }: MeasureCase): Frame {
  const { tape } = input;
  const x = 'x' in input ? column(input.x) : generated(input);
  const y = 'x' in input && input.y ? column(input.y) : x;
  const time = 'time' in input && input.time ? column(input.time) : x.map((_, row) => row * 60e6);
  const session = tape?.session;
  const calendar = makeCalendar({
    zone: tape?.zone ?? 'UTC',
    ...(session && { session: `${session.open}-${session.close}`, weekdays: session.days, closed: session.closed }),
  });
  return { time, columns: { x, y }, calendar, interval };
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

function windowText({ bars, seconds, months, this: period, all, ...options }: WindowSpec): string {
  const size = bars
    ? `${bars} bars`
    : months
      ? `${months} months`
      : seconds
        ? `${seconds} seconds`
        : all
          ? 'all'
          : `this ${period}`;
  return size + optionsText({ ...options });
}

describe.each(['windows_bars', 'windows_time', 'windows_full', 'windows_hard', 'windows_pairs'])('%s', (file) => {
  const { cases, toleranceOf } = readReference<MeasureCase>(file);
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    const frame = frameOf(example);
    for (const wanted of example.expected) {
      const { aggregate, p, divisor, against } = wanted;
      const of = file === 'windows_pairs' ? 'x, y' : 'x';
      const formula = `${aggregate}(${of}, ${windowText(example.window!)}${optionsText({ p, divisor, against })})`;
      expectFormula(example.name, formula, frame, wanted, example.rows, toleranceOf(aggregate!, example.tolerance));
    }
  });
});

describe('moves', () => {
  const { cases, toleranceOf } = readReference<MeasureCase>('moves');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    for (const wanted of example.expected) {
      const name = wanted.function!;
      const back = wanted.seconds ? `, ${wanted.seconds} seconds` : wanted.k === undefined ? '' : `, ${wanted.k}`;
      expectFormula(
        example.name,
        `${name}(x${back}${optionsText({ to: wanted.to })})`,
        frameOf(example),
        wanted,
        undefined,
        toleranceOf(name),
      );
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

/** Columns of prices under their names; those that a case does not have are missing throughout. */
function priceFrame(input: Record<string, Listed>): Frame {
  const [some] = Object.values(input);
  const missing = some.map(() => null);
  const named = ['x', 'open', 'high', 'low', 'close'].map((name) => [name, column(input[name] ?? missing)]);
  const columns = Object.fromEntries(named) as Frame['columns'];
  return { time: input.time ? column(input.time) : columns.x.map((_, row) => row * 60e6), columns };
}

describe('trade', () => {
  type Options = { window?: WindowSpec; k?: number; bars?: number; fast?: number; slow?: number; signal?: number };
  interface TradeCase {
    tolerance?: undefined;
    name: string;
    function: string;
    input: Record<string, Listed>;
    options: Options;
    expected: Record<string, Listed>;
  }
  const formulas: Record<string, (options: Options) => string> = {
    bands: ({ window, k }) => `bands(x, ${windowText(window!).replace(',', `, ${k},`)}${window!.from ? '' : `, ${k}`})`,
    macd: ({ fast, slow, signal }) => `macd(x, ${fast}, ${slow}, ${signal})`,
    truerange: () => 'truerange',
    atr: ({ bars }) => `atr(${bars} bars)`,
    rsi: ({ bars }) => `rsi(x, ${bars} bars)`,
  };
  const { cases, toleranceOf } = readReference<TradeCase>('trade');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    const formula = formulas[example.function](example.options);
    for (const [part, wanted] of Object.entries(example.expected)) {
      const whole = part === example.function ? 'a' : `a.${part}`;
      const [, { values }] = evaluate([`a = ${formula}`, `b = ${whole}`], priceFrame(example.input)).filter(
        ({ part: name }) => name === '',
      );
      expectColumn(`${formula}: ${part}`, values, wanted, toleranceOf(part));
    }
  });
});

describe('volatility', () => {
  interface VolatilityCase {
    tolerance?: undefined;
    name: string;
    input: Record<string, Listed>;
    options: { by: string; bars?: number; factor?: number };
    bars_per_day: number;
    days_per_year: number;
    expected: Record<string, Listed>;
  }
  const { cases, toleranceOf } = readReference<VolatilityCase>('volatility');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, example) => {
    const { by, bars, factor } = example.options;
    const pace = { barsperday: example.bars_per_day, daysperyear: example.days_per_year };
    const told = `${bars ? `${bars} bars, ` : ''}by: ${by}${optionsText({ factor, ...pace })}`;
    for (const [part, wanted] of Object.entries(example.expected)) {
      const per = part === 'variance' ? 'bar' : part.replace('per ', '');
      const formula = `volatility(${told}, per: ${per})`;
      const [, { values }] = evaluate([`v = ${formula}`, 'w = v * v'], priceFrame(example.input));
      const [{ values: plain }] = evaluate([formula], priceFrame(example.input));
      expectColumn(`${formula}: ${part}`, part === 'variance' ? values : plain, wanted, toleranceOf(part));
    }
  });
});

describe('hurst', () => {
  interface HurstCase {
    tolerance?: undefined;
    name: string;
    input: { x: Listed };
    options: { bars: number };
    rows: number[];
    expected: { by: string; hurst: Listed; error: Listed; rsquared: Listed }[];
  }
  const { cases, toleranceOf } = readReference<HurstCase>('hurst');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, { input, options, rows, expected }) => {
    for (const { by, ...parts } of expected) {
      const columns = evaluate([`hurst(x, ${options.bars} bars, by: ${by})`], priceFrame({ x: input.x }));
      for (const { part, values } of columns) {
        if (part === 'spread') continue; // of simulated paths, which have a test of their own
        const wanted = parts[(part || 'hurst') as keyof typeof parts];
        expectColumn(
          `${by}: ${part}`,
          rows.map((row) => values[row]),
          wanted,
          toleranceOf(part),
        );
      }
    }
  });
});

describe('autocorrelation', () => {
  interface Found {
    acf: Listed;
    pacf: Listed;
    band: number;
    bartlett: Listed;
    ljungbox: { lags: number; fitted: number; statistic: number; degrees: number; p: number }[];
  }
  interface AutocorrelationCase {
    tolerance?: undefined;
    name: string;
    input: { x: Listed };
    options: { lags: number };
    expected: Found;
  }
  const { cases, toleranceOf } = readReference<AutocorrelationCase>('autocorrelation');
  it.each(cases.map((c) => [c.name, c] as const))('%s', (_, { input, options, expected }) => {
    const found = autocorrelation(column(input.x), options.lags);
    for (const part of ['acf', 'pacf', 'bartlett'] as const)
      expectColumn(part, found[part], expected[part], toleranceOf(part));
    expect(found.band).toBeCloseTo(expected.band, 12);
    for (const { lags, fitted, ...wanted } of expected.ljungbox) {
      const test = autocorrelation(column(input.x), lags, fitted).ljungBox[lags - 1];
      for (const key of ['statistic', 'degrees', 'p'] as const)
        expectColumn(`${key} of ${lags} lags`, [test[key]], [wanted[key]], { rel: 1e-9, abs: 0 });
    }
  });
});

it('leaves the columns it is given as they were', () => {
  const values = Float64Array.from({ length: 40 }, (_, row) => (row === 1 ? NaN : 1 + (row % 7)));
  const x = values.slice();
  const frame: Frame = {
    time: x.map((_, row) => row),
    columns: { x, open: x, high: x, low: x, close: x, volume: x },
  };
  for (const { example } of catalogue.values()) evaluate([example], frame);
  expect(x).toEqual(values);
});
