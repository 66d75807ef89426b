import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  catalogue,
  completionsAt,
  evaluate,
  makeCalendar,
  namesOf,
  planEntries,
  Work,
  workingOf,
  type Frame,
} from '@jaunty-ledger/core';

/* The working beside a stored value: worked out anew in the plainest way, it has to come to the same. */

const calendar = makeCalendar({ zone: 'UTC' });
const MINUTE = 60e6;
const START = Date.parse('2026-02-02T00:00:00Z') * 1000;
const BAR_COLUMNS = ['open', 'high', 'low', 'close', 'volume', 'value', 'vwap', 'trades'];

/** Half-hourly bars whose prices walk in cents, with gaps now and then. */
const frames: fc.Arbitrary<Frame> = fc
  .array(
    fc.tuple(fc.integer({ min: -30, max: 30 }), fc.integer({ min: 0, max: 20 }), fc.integer({ min: 0, max: 12 })),
    { minLength: 90, maxLength: 160 },
  )
  .map((steps) => {
    let cents = 10_000;
    const rows = steps.map(([step, reach, gap]) => {
      cents += step;
      return gap === 0 ? [NaN, NaN, NaN] : [cents / 100, (cents + reach) / 100, (cents - reach) / 100];
    });
    const column = (index: number) => Float64Array.from(rows, (row) => row[index]);
    const volume = Float64Array.from(steps, ([, reach]) => 100 + reach);
    const close = column(0);
    return {
      time: Float64Array.from(rows, (_, row) => START + row * 30 * MINUTE),
      columns: {
        open: close,
        close,
        high: column(1),
        low: column(2),
        volume,
        value: volume,
        vwap: close,
        trades: volume,
      },
      calendar,
      rule: '30 minutes',
    };
  });

function workingsOf(formula: string, frame: Frame, rows: readonly number[]) {
  const plans = planEntries([formula], namesOf(frame));
  const work = new Work(frame, plans);
  for (const plan of plans) work.compute(plan);
  return rows.map((row) => workingOf(plans[0], work, { time: frame.time, calendar }, row));
}

/** Windowed functions with each of the ways to write their arguments. */
const AGGREGATES = [...catalogue.values()].filter(
  ({ definition, name }) => definition.startsWith('4.') && name !== 'window',
);
const columnsOf = (name: string) =>
  catalogue.get(name)!.parameters.filter(({ kind }) => kind === 'column').length === 2 ? 'close, volume' : 'close';

const ON_A_LINE = 1e7;

describe.each(AGGREGATES.map(({ name }) => [name]))('the working of %s', (name) => {
  it('comes to the stored value at every row, whatever the window', () =>
    fc.assert(
      fc.property(
        frames,
        fc.constantFrom('12 bars', '5 hours', 'this day', 'all', '12 bars, skip: 2', '12 bars, from: 4'),
        fc.nat(),
        (frame, window, at) => {
          const row = at % frame.time.length;
          // a window that looks back only may not hold the row's own value, which these two need
          if ((name === 'zscore' || name === 'rank') && window.includes('skip')) return;
          const [{ stored, recomputed, rows }] = workingsOf(`${name}(${columnsOf(name)}, ${window})`, frame, [row]);
          if (Number.isNaN(stored) || recomputed === undefined) return;
          // prices of whole cents that lie on a line lie off it by rounding alone, and how little that is says nothing
          if (name === 'tvalue' && Math.abs(stored) > ON_A_LINE)
            expect(Math.sign(stored) * recomputed).toBeGreaterThan(ON_A_LINE);
          else expect(Math.abs(recomputed - stored)).toBeLessThanOrEqual(1e-7 * (1 + Math.abs(stored)));
          expect(rows.at.every((own) => own <= row)).toBe(true);
        },
      ),
      { numRuns: 40 },
    ));
});

describe('what can be followed with a pocket calculator', () => {
  const tame: Frame = {
    time: Float64Array.from({ length: 6 }, (_, row) => START + row * MINUTE),
    columns: { close: Float64Array.of(1, 2, 4, 8, NaN, 16) },
    calendar,
  };
  const stepsOf = (formula: string, row: number) => {
    const [{ steps, recomputed, rows }] = workingsOf(formula, tame, [row]);
    return { steps: steps.map(({ value }) => value), recomputed, at: rows.at, columns: rows.columns };
  };

  it('a mean: its rows, their sum, their number', () => {
    const { steps, recomputed, at, columns } = stepsOf('mean(close, 3 bars, from: 2)', 5);
    expect({ at, columns, recomputed }).toEqual({ at: [3, 4, 5], columns: [[8, NaN, 16]], recomputed: 12 });
    expect(steps).toEqual(expect.arrayContaining([24, 2]));
  });

  it('an exponential average: the recursion, step by step', () => {
    const { recomputed, columns } = stepsOf('ema(close, factor: 0.5)', 3);
    const [before, values, after] = columns;
    expect(values).toEqual([1, 2, 4, 8]);
    expect(after).toEqual([1, 1.5, 2.75, 5.375]);
    expect(before.slice(1)).toEqual(after.slice(0, -1));
    expect(recomputed).toBe(5.375);
  });

  it('a move: the value and its base', () => {
    expect(stepsOf('return(close, 2)', 2)).toMatchObject({ steps: [4, 1], recomputed: 3, at: [0, 2] });
    expect(stepsOf('change(close)', 3)).toMatchObject({ steps: [8, 4], recomputed: 4 });
  });

  it('an operator: what it was given', () => expect(stepsOf('close * 2 - lag(close)', 3).steps).toEqual([16, 4]));

  it('a Hurst exponent: the points and the line through them', () =>
    fc.assert(
      fc.property(frames, fc.constantFrom('rs', 'dfa', 'variance'), (frame, by) => {
        const filled = { ...frame, columns: { ...frame.columns, x: frame.columns.close.map((x, i) => x || i) } };
        const row = frame.time.length - 1;
        const [{ stored, recomputed, fit }] = workingsOf(`hurst(change(x), 64 bars, by: ${by})`, filled, [row]);
        if (Number.isNaN(stored)) return;
        expect(recomputed).toBeCloseTo(stored, 8);
        expect(fit!.x.length).toBe(fit!.y.length);
        expect(fit!.x.length).toBeGreaterThanOrEqual(3);
        // least squares: the residuals sum to nothing
        const residual = fit!.y.reduce((sum, y, i) => sum + y - fit!.intercept - fit!.slope * fit!.x[i], 0);
        expect(Math.abs(residual)).toBeLessThan(1e-8);
      }),
      { numRuns: 20 },
    ));

  it('a part other than the first has its own value, and no steps that lead elsewhere', () => {
    const [working] = workingsOf('bands(close, 3 bars, 2, from: 1).upper', tame, [3]);
    expect(working.recomputed).toBeUndefined();
    expect(working.stored).toBeGreaterThan(8);
  });
});

describe('what is offered while one writes', () => {
  const names = new Map([
    ...BAR_COLUMNS.map((name) => [name, 'column of the bars'] as const),
    ['calm', 'mean(close, 50 bars)'] as const,
    ['rough = stdev(close, 9 bars)', 'kept'] as const,
  ]);
  /** The text with a bar where the cursor is. */
  const offered = (marked: string) => {
    const { items } = completionsAt(marked.replace('|', ''), marked.indexOf('|'), names);
    return items.map(({ text }) => text);
  };

  it.each([
    ['functions that begin so', 'smooth = me|', ['mean()', 'median()']],
    ['columns and entries beside them', 'c|', ['close', 'calm', 'change()', 'correlation()']],
    ['columns within a call', 'mean(vo|', ['volume', 'volatility()']],
    ['windows where one belongs', 'mean(close, |', ['20 bars', 'this session', 'all']],
    ['units of a number that was begun', 'mean(close, 12|', ['12 bars', '12 minutes', '12 days']],
    ['options by their names', 'mean(close, 20 bars, f|', ['from: ']],
    ['the words of an option', 'hurst(close, 256 bars, by: |', ['rs', 'dfa', 'variance']],
  ])('%s', (_, marked, wanted) => expect(offered(marked)).toEqual(expect.arrayContaining(wanted)));

  it('is a whole entry where one begins and nowhere else', () => {
    expect(offered('|')).toEqual(['rough = stdev(close, 9 bars)']);
    expect(offered('ro|')).toContain('rough = stdev(close, 9 bars)');
    expect(offered('x = ro|').join()).not.toContain('rough');
  });

  it('takes the place of the word under way and no more', () => {
    const { start, end, items } = completionsAt('gap = clo - calm', 9, names);
    expect([start, end]).toEqual([6, 9]);
    expect(items.map(({ text }) => text)).toContain('close');
  });

  it('is, with the first offer taken, a formula as far as it goes, whatever was typed', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(
          'mean(close, ',
          'ema(',
          'x = slope(log(cl',
          'bands(close, 20 bars, 2, ',
          'correlation(close, vol',
        ),
        (text) => {
          const { start, end, items } = completionsAt(text, text.length, names);
          for (const { text: put, cursor } of items) {
            const whole = text.slice(0, start) + put + text.slice(end);
            expect(whole.startsWith(text.slice(0, start))).toBe(true);
            expect(cursor).toBeLessThanOrEqual(put.length);
          }
        },
      ),
    ));
});

describe('limits', () => {
  const frame: Frame = { time: Float64Array.of(1), columns: { close: Float64Array.of(1) } };

  it.each([
    ['brackets within brackets', `${'('.repeat(5000)}close${')'.repeat(5000)}`],
    ['signs before signs', `${'-'.repeat(5000)}close`],
    ['a formula of a million characters', `close${' + close'.repeat(130_000)}`],
    ['a fan of a hundred', `mean(close, [${Array.from({ length: 100 }, (_, i) => i + 1).join(', ')}] bars)`],
    ['a number too large to count with', 'mean(close, 99999999999999999999 bars)'],
  ])('%s is refused in words, and quickly', (_, formula) => {
    expect(() => evaluate([formula], frame)).toThrow(expect.objectContaining({ name: 'FormulaError' }));
  });
});

it('of a window in time that is not full yet says so, and how to start early', () => {
  const hours = Float64Array.from({ length: 9 }, (_, row) => START + row * 60 * MINUTE);
  const frame: Frame = { time: hours, columns: { close: hours.map((_, row) => row) }, calendar, rule: '1 hour' };
  const at = (formula: string, row: number) => {
    const plans = planEntries([formula], namesOf(frame));
    return workingOf(plans[0], new Work(frame, plans), { time: hours, calendar }, row);
  };
  expect(at('mean(close, 4 hours)', 2)).toMatchObject({ stored: NaN, recomputed: undefined });
  expect(at('mean(close, 4 hours)', 2).steps[0].says).toMatch(/begins before the first row; `from: 1` takes/);
  expect(at('mean(close, 4 hours)', 3)).toMatchObject({ stored: 1.5, recomputed: 1.5 });
  expect(at('mean(close, 4 hours, from: 1)', 2)).toMatchObject({ stored: 1, recomputed: 1 });
  expect(at('count(close, 4 hours)', 0)).toMatchObject({ stored: 1, recomputed: 1 });
});
