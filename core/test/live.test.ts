import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BAR_FIELDS, type BuiltBars } from '../src/bars/bars.js';
import { parseBarRule } from '../src/bars/barRule.js';
import { BarBuilder } from '../src/bars/buildBars.js';
import { catalogue } from '../src/catalogue/catalogue.js';
import { evaluate } from '../src/formula/evaluate.js';
import { frameRows, namesOf, type Frame } from '../src/formula/frame.js';
import { LiveBars } from '../src/live/liveBars.js';
import { LiveColumns } from '../src/live/liveColumns.js';
import { makeCalendar } from '../src/time/calendar.js';

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
      { numRuns: 60 },
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
    const column = (level: number, k: number) =>
      Float64Array.from({ length: rows }, (_, row) =>
        withGaps && (row * k + seed) % 37 === 0 ? NaN : level + Math.sin(row * row * k + seed) + 1e-9 * row,
      );
    return {
      time: Float64Array.from({ length: rows }, (_, row) => START + row * HOUR),
      end: Float64Array.from({ length: rows }, (_, row) => START + (row + 1) * HOUR),
      columns: {
        ...{ open: column(100, 1), high: column(103, 2), low: column(97, 3), close: column(100, 4) },
        ...{ volume: column(50, 5), value: column(5000, 6), vwap: column(100, 7), trades: column(9, 8) },
      },
      calendar,
      rule: '1 hour',
    };
  };
  /** The frame up to a row, of which the last is still on its way. */
  const upTo = (frame: Frame, rows: number, isOpen: boolean): Frame => {
    const part = frameRows(frame, 0, rows);
    if (!isOpen) return part;
    const { close } = part.columns;
    const moved = close.slice();
    moved[rows - 1] *= 1.01;
    return { ...part, columns: { ...part.columns, close: moved } };
  };
  const projections = [...catalogue.values()].filter(({ ahead }) => ahead).map(({ name }) => name);
  const examples = [...catalogue.values()].map(({ example }) => example);
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
    ],
    ...['correlation(close, open, 11 bars)', 'bands(change(close, 3), 11 bars, 2).upper', '1 + 1', 'close'],
    ...['zscore(logreturn(close), 10 bars)', 'if(close > mean(close, 6 bars), 1, -volume)', 'slope(close, 12 bars)'],
  ];

  it.each([...new Set([...examples, ...more])])('%s', (formula) => {
    fc.assert(
      fc.property(fc.nat(500), fc.boolean(), cuts(ROWS), fc.boolean(), (seed, withGaps, lengths, isOpen) => {
        const frame = frameOf(seed, withGaps);
        const entries = ['base = close', `it = ${formula}`];
        const isOfRowsToCome = projections.some((name) => formula.startsWith(`${name}(`));
        // a projection needs some rows, and goes into no other formula
        if (isOfRowsToCome) lengths = lengths.filter((rows) => rows > 40);
        else entries.push('then = mean(it, 4 bars) - base');
        const live = new LiveColumns(entries, namesOf(frame));
        const sent = new Map<string, number[]>();
        let from = 0;
        lengths.forEach((rows, step) => {
          const now = upTo(frame, rows, isOpen && step < lengths.length - 1);
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
          from = isOpen ? rows - 1 : rows;
        });
      }),
      { numRuns: 25 },
    );
  });

  it('cost what is new where a column has no gap, however many rows there are', () => {
    const entries = [
      'm = mean(close, 20 bars)',
      'e = ema(close, 9 bars)',
      's = stdev(logreturn(close), 20 bars)',
      'm - e',
    ];
    const rows = 200_000;
    const frame = frameOf(1, false, rows);
    const live = new LiveColumns(entries, namesOf(frame));
    live.advance(frameRows(frame, 0, rows - 1), 0);
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
