import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BAR_FIELDS, type BuiltBars } from '../src/bars/bars.js';
import { parseBarRule } from '../src/bars/barRule.js';
import { BarBuilder } from '../src/bars/buildBars.js';
import { catalogue } from '../src/catalogue/catalogue.js';
import type { OptionRule } from '../src/catalogue/functionEntry.js';
import { evaluate } from '../src/formula/evaluate.js';
import { planEntries } from '../src/formula/plan.js';
import { FormulaError } from '../src/formula/tree.js';
import { frameRows, namesOf, type Frame } from '../src/formula/frame.js';
import { LiveBars } from '../src/live/liveBars.js';
import { LiveColumns } from '../src/live/liveColumns.js';
import { makeCalendar } from '../src/time/calendar.js';
import { runs } from './simulations.js';

/* Rows that arrive: whatever is advanced is, to the last bit, what all rows give at once. */

const HOUR = 3600e6;
const START = Date.UTC(2026, 1, 2, 7) * 1000;
const calendar = makeCalendar({
  ...{ zone: 'Atlantic/Faroe', session: '08:30-16:30', weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'] },
});

/** Whether two columns are the same to the last bit. */
const same = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  a.length === b.length && Array.from(a).every((value, row) => Object.is(value, b[row]));

/** Lengths that rise to a whole. */
const cuts = (rows: number) =>
  fc
    .uniqueArray(fc.integer({ min: 1, max: rows }), { minLength: 1, maxLength: 8 })
    .map((list) => [...list.sort((a, b) => a - b), rows]);

/** Values of an option to try. */
function valuesOf(rule: OptionRule): string[] {
  switch (rule.kind) {
    case 'word':
      return [...rule.words];
    case 'whole':
      return [rule.min, rule.min + 2].map(String);
    case 'number':
      return [String(Math.min(rule.max, rule.above + 2))];
    case 'share':
      return ['0.3'];
    case 'stretch':
      return ['3 bars', '5 hours'];
  }
}

/** A call with an option set, in place of the value that it has. */
const withOption = (call: string, option: string, value: string): string =>
  call.includes(`${option}:`)
    ? call.replace(new RegExp(`${option}: [^,)]+`), `${option}: ${value}`)
    : call.replace(/\)(\.\w+)?$/, `, ${option}: ${value})$1`);

describe('bars of records that arrive', () => {
  const RULES = [
    ...['5 minutes', '1 hour', '1 day', '20 minutes, empty: carry', '20 minutes, empty: blank', '7 trades'],
    ...['7 trades, restart: day', '40 units', '900 value', 'range 0.5', '10 minutes, all hours'],
  ];
  const records = (seed: number, rows: number) => {
    let at = START;
    let price = 100;
    let state = seed + 1;
    const random = () => (state = (state * 48271) % 2147483647) / 2147483647;
    const column = (next: () => number) => Float64Array.from({ length: rows }, next);
    const time = column(() => (at += random() < 0.02 ? 5 * HOUR : Math.floor(random() * 200e6)));
    return {
      time,
      price: column(() => (random() < 0.05 ? NaN : (price = Math.round(100 * (price + random() - 0.5)) / 100))),
      size: column(() => (random() < 0.05 ? NaN : Math.ceil(9 * random()))),
      texts: { venue: column(() => Math.floor(3 * random())) },
      numbers: { interest: column(random) },
    };
  };

  it.each(RULES)('%s', (text) => {
    fc.assert(
      fc.property(fc.nat(1000), cuts(120), (seed, lengths) => {
        const all = records(seed, 120);
        const rule = parseBarRule(text);
        const live = new LiveBars(rule, calendar);
        const found: Record<string, number[]> = {};
        let from = 0;
        for (const to of lengths) {
          const part = (column: Float64Array) => column.subarray(from, to);
          live.add({
            ...{ time: part(all.time), price: part(all.price), size: part(all.size) },
            ...{ texts: { venue: part(all.texts.venue) }, numbers: { interest: part(all.numbers.interest) } },
          });
          const { first, bars } = live.changed();
          for (const [name, column] of columnsOf(bars)) {
            found[name] ??= [];
            found[name].splice(first, Infinity, ...column);
          }
          from = to;
        }
        const whole = new BarBuilder(rule, calendar);
        whole.add(all);
        for (const [name, column] of columnsOf(whole.finish())) expect(same(found[name], column), name).toBe(true);
      }),
      { numRuns: runs(60) },
    );
  });

  const columnsOf = (bars: BuiltBars): [string, Float64Array | Uint8Array][] => [
    ...BAR_FIELDS.map((name): [string, Float64Array] => [name, bars[name]]),
    ...[...Object.entries(bars.texts ?? {}), ...Object.entries(bars.numbers ?? {})],
    ['complete', bars.complete],
  ];
});

describe('columns of rows that arrive', () => {
  const ROWS = 160;
  const frameOf = (seed: number, withGaps: boolean, rows = ROWS): Frame => {
    // bars by count come at any time; how many of them make a day is seen by all of them together
    const rule = seed % 2 === 0 ? '1 hour' : '100 trades';
    const step = (row: number) => HOUR * (rule === '1 hour' ? row : Math.round(row / 2 + 9 * Math.sin(row / 50)));
    const column = (level: number, k: number) =>
      Float64Array.from({ length: rows }, (_, row) =>
        withGaps && (row * k + seed) % 37 === 0 ? NaN : level + Math.sin(row * row * k + seed) + 1e-9 * row,
      );
    return {
      time: Float64Array.from({ length: rows }, (_, row) => START + step(row)),
      end: Float64Array.from({ length: rows }, (_, row) => START + step(row + 1)),
      columns: {
        ...{ open: column(100, 1), high: column(103, 2), low: column(97, 3), close: column(100, 4) },
        ...{ volume: column(50, 5), value: column(5000, 6), vwap: column(100, 7), trades: column(9, 8) },
      },
      calendar,
      rule,
    };
  };
  /** The frame up to a row, of which the last is still on its way. */
  const upTo = (frame: Frame, rows: number, open: 'none' | 'moves' | 'missing'): Frame => {
    const part = frameRows(frame, 0, rows);
    if (open === 'none') return part;
    const { close } = part.columns;
    const moved = close.slice();
    moved[rows - 1] *= open === 'moves' ? 1.01 : NaN;
    return { ...part, columns: { ...part.columns, close: moved } };
  };
  const OPEN = fc.constantFrom('none' as const, 'moves' as const, 'missing' as const);
  const projections = [...catalogue.values()].filter(({ ahead }) => ahead).map(({ name }) => name);
  /** With windows that the rows fill. */
  const examples = [...catalogue.values()].map(({ example }) => example.replaceAll(/\d{3,} bars/g, '64 bars'));
  /** The examples with each of their options, in each of its words. */
  const withOptions = [...catalogue.values()].flatMap(({ options }, index) =>
    Object.entries(options)
      .flatMap(([option, rule]) => valuesOf(rule).map((value) => withOption(examples[index], option, value)))
      .filter((formula) => isAccepted(formula)),
  );
  function isAccepted(formula: string): boolean {
    try {
      planEntries([formula], namesOf(frameOf(0, false)));
      return true;
    } catch (error) {
      if (error instanceof FormulaError) return false; // options that exclude each other
      throw error;
    }
  }
  const more = [
    ...['mean(close, 9 bars, skip: 3)', 'mean(close, 9 bars, placed: centre)', 'max(close, 8 bars, placed: ahead)'],
    ...['lead(lag(close, 4), 9) - close', 'stdev(logreturn(close), 12 bars)', 'mean(mean(close, 7 bars), 5 bars)'],
    ...['ema(close, 5 bars) - ema(ema(close, 3 bars), 9 bars)', 'ema(lag(close, 3), 9 bars, start: mean)'],
    ...['mean(close, this day)', 'mean(close, 9 bars, each: day)', 'max(close, all)', 'mean(close, 4 hours)'],
    ...[
      'mean(close, 2 bars) on 4 hours',
      'lag(close, 5 hours)',
      'ema(close, halflife: 3 hours)',
      'mean(close, 70 bars)',
      'mean(mean(close, 5 bars, from: 2), 90 bars)',
    ],
    ...['correlation(close, open, 11 bars)', 'bands(change(close, 3), 11 bars, 2).upper', '1 + 1', 'close'],
    ...['stdev(close, 6 hours)', 'slope(close, 9 hours, skip: 2)', 'correlation(close, open, 1 month, from: 5)'],
    ...[
      'volatility(10 bars)',
      'volatility(4 bars, each: day)',
      'mean(volatility(5 bars), 60 bars)',
      'sum(close, 3 bars, each: week) - ema(close, 5 bars, each: session)',
    ],
    ...['window(max(x) - min(x), x: logreturn(close), 9 bars)', 'lag(close, 2, each: day)'],
    ...['median(close, 5 hours)', 'max(close, 9 bars, skip: 1)', 'wma(close, this week)', 'return(close, 4 hours)'],
    ...['mean(stdev(close, 6 hours), 5 hours) + ema(mean(close, 3 hours), 4 bars)', 'sum(close, 9 bars, from: 2)'],
    ...['zscore(logreturn(close), 10 bars)', 'if(close > mean(close, 6 bars), 1, -volume)', 'slope(close, 12 bars)'],
  ];

  it('covers the options of functions', () => expect(withOptions.length).toBeGreaterThan(60));

  it.each([...new Set([...examples, ...withOptions, ...more])])('%s', (formula) => {
    fc.assert(
      fc.property(fc.nat(500), fc.boolean(), cuts(ROWS), OPEN, (seed, withGaps, lengths, open) => {
        // larger bars are cut from bars of equal length alone
        const frame = frameOf(formula.includes(' on ') ? 2 * seed : seed, withGaps);
        const entries = ['base = close', `it = ${formula}`];
        const isOfRowsToCome = projections.some((name) => formula.startsWith(`${name}(`));
        // a projection needs some rows, and goes into no other formula
        if (isOfRowsToCome) lengths = lengths.filter((rows) => rows > 40);
        else entries.push('then = mean(it, 4 bars) - base');
        const live = new LiveColumns(entries, namesOf(frame));
        const sent = new Map<string, number[]>();
        let from = 0;
        lengths.forEach((rows, step) => {
          const now = upTo(frame, rows, step < lengths.length - 1 ? open : 'none');
          const columns = live.advance(now, from);
          const whole = evaluate(entries, now);
          columns.forEach(({ name, values, firstValid, changedFrom }, index) => {
            // whoever has had the rows that changed has all of them
            const rows = sent.get(name) ?? [];
            rows.splice(changedFrom, Infinity, ...values.subarray(changedFrom));
            sent.set(name, rows);
            expect([name, firstValid]).toEqual([whole[index].name, whole[index].firstValid]);
            expect(same(rows, whole[index].values), name).toBe(true);
          });
          from = open === 'none' ? rows : rows - 1;
        });
      }),
      { numRuns: runs(withOptions.includes(formula) ? 6 : 25) },
    );
  });

  const COSTS: [string, boolean, string[]][] = [
    ['of a column without gaps', false, ['mean(close, 20 bars)', 'ema(close, 9 bars)', 'hurst(close, 64 bars)']],
    ['of a column with gaps', true, ['mean(close, 20 bars)', 'stdev(logreturn(close), 20 bars)', 'max(close, 9 bars)']],
    ['of windows by time', true, ['mean(close, 2 days)', 'slope(close, 9 hours)', 'median(close, this week)']],
    [
      'of groups and of windows one by one',
      true,
      ['mean(close, 5 bars, each: day)', 'window(max(x), x: close, 9 bars)'],
    ],
    ['of moves over time', true, ['return(close, 1 day)', 'lag(close, 3 hours)', 'close - lag(close)']],
  ];
  it.each(COSTS)('%s cost what is new, however many rows there are', (_, withGaps, entries) => {
    const rows = 200_000;
    const frame = frameOf(0, withGaps, rows);
    const live = new LiveColumns(entries, namesOf(frame));
    live.advance(frameRows(frame, 0, rows - 2), 0);
    live.advance(frameRows(frame, 0, rows - 1), rows - 2);
    let read = 0;
    // the rows that the formulas look at: each read of a column is told
    const watched = { ...frame.columns };
    watched.close = new Proxy(frame.columns.close, {
      get: (column, name) => {
        if (name !== 'subarray') return Reflect.get(column, name, column) as unknown;
        return (first: number, end?: number) => {
          const part = column.subarray(first, end);
          read += part.length;
          return part;
        };
      },
    });
    live.advance({ ...frame, columns: watched }, rows - 1);
    expect(read).toBeGreaterThan(0);
    expect(read).toBeLessThan(2000);
  });
});
