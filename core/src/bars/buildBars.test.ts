import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import { periodInstant, periodNumber } from '../time/rfc3339.js';
import type { Ticks } from '../records/ticks.js';
import { parseBarRule } from './barRule.js';
import { TAKES, type Take } from './barKind.js';
import { BAR_FIELDS, type BuiltBars } from './bars.js';
import { BarBuilder, buildBars } from './buildBars.js';
import { BuildCourse, TooManyBarsError } from './buildCourse.js';
import { coveringRange } from './coveringRange.js';

const START = Date.parse('2026-03-26T07:00:00Z') * 1000; // some days before a change of clocks
const calendars = {
  session: makeCalendar({
    zone: 'Atlantic/Faroe',
    session: '08:30-16:30',
    weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  }),
  whole: makeCalendar({ zone: 'America/Santiago' }),
  night: makeCalendar({ zone: 'America/Chicago', session: '17:00-16:00' }),
};

/** Trades in order of time with cents for prices, whole sizes and the number of their berth; some instants repeat. */
const ticks: fc.Arbitrary<Ticks> = fc
  .array(
    fc.tuple(
      fc.integer({ min: 0, max: 3_600 }),
      fc.integer({ min: 9_000, max: 11_000 }),
      fc.integer({ min: 0, max: 500 }),
    ),
    { minLength: 1, maxLength: 300 },
  )
  .map((rows) => {
    let time = START;
    return {
      time: Float64Array.from(rows, ([wait]) => (time += wait * 1e6)),
      price: Float64Array.from(rows, ([, price]) => price / 100),
      size: Float64Array.from(rows, ([, , size]) => size),
      texts: { berth: Float64Array.from(rows, ([wait]) => wait % 3) },
    };
  });
const calendar = fc.constantFrom(...Object.values(calendars));
const timeRules = fc.constantFrom(
  '1 minute',
  '7 minutes',
  '1 hour',
  '4 hours',
  '1 day',
  '1 week',
  '1 hour, all hours',
  '1 day, all hours',
);
const runningRules = fc.constantFrom(
  '3 trades',
  '400 units',
  '20000 value',
  'range 0.5',
  '5 trades, restart: day',
  '300 units, all hours',
);
const rules = fc.oneof(timeRules, runningRules).map(parseBarRule);
const sum = (column: Float64Array) => column.reduce((total, value) => total + value, 0);

function slice({ time, price, size, texts, numbers }: Ticks, from: number, to?: number): Ticks {
  const part = (column: Float64Array) => column.slice(from, to);
  return {
    time: part(time),
    price: part(price),
    size: part(size!),
    texts: { berth: part(texts!.berth) },
    ...(numbers && { numbers: { lots: part(numbers.lots) } }),
  };
}

function expectSame(a: BuiltBars, b: BuiltBars): void {
  for (const field of BAR_FIELDS) expect(a[field], field).toEqual(b[field]);
  expect(a.complete).toEqual(b.complete);
  expect(a.texts).toEqual(b.texts);
  expect(a.leftOut).toBe(b.leftOut);
}

/** What a rule may take of some numbers. */
const TAKEN: Record<Take, (known: number[]) => number> = {
  last: (known) => known.at(-1) ?? NaN,
  first: (known) => known[0] ?? NaN,
  sum: (known) => (known.length > 0 ? known.reduce((total, one) => total + one, 0) : NaN),
  mean: (known) => TAKEN.sum(known) / known.length,
};

describe('bars of any kind', () => {
  it('take the last, the first, the sum or the mean of single values and of further columns', () =>
    fc.assert(
      fc.property(
        ticks,
        rules,
        fc.constantFrom(...TAKES),
        fc.constantFrom(...TAKES),
        fc.nat(299),
        (source, rule, take, lots, at) => {
          const whole = { ...source, numbers: { lots: source.size!.map((size, row) => (row % 3 === 0 ? NaN : size)) } };
          const builder = new BarBuilder({ ...rule, take, takes: { lots } }, calendars.session);
          builder.add(slice(whole, 0, at));
          builder.add(slice(whole, at));
          const bars = builder.finish();
          const plain = buildBars(source, rule, calendars.session);
          expect(bars.time).toEqual(plain.time);
          bars.time.forEach((_, bar) => {
            const all = Array.from(source.time.keys()).slice(bars.firstRecord[bar], bars.endRecord[bar]);
            const held = all.filter((row) => rule.allHours || calendars.session.inSession(source.time[row]));
            const known = (column: Float64Array) => held.map((row) => column[row]).filter((one) => !Number.isNaN(one));
            expect(bars.close[bar]).toBe(TAKEN[take](known(source.price)));
            expect(bars.numbers!.lots[bar]).toBe(TAKEN[lots](known(whole.numbers.lots)));
            if (take !== 'last') expect(bars.high[bar]).toBe(bars.close[bar]);
          });
        },
      ),
    ));

  it('of adjusted prices are those of records that were adjusted before', () =>
    fc.assert(
      fc.property(ticks, rules, (source, rule) => {
        const factor = source.time.map((_, row) => 1 / (1 + (row % 7)));
        const adjusted = source.price.map((price, row) => price * factor[row]);
        const before = { ...source, price: source.price.map((price, row) => price * (adjusted[row] / price)) };
        const bars = buildBars(
          { ...source, numbers: { adjusted } },
          { ...rule, adjusted: 'adjusted' },
          calendars.whole,
        );
        expectSame({ ...bars, numbers: undefined }, buildBars(before, rule, calendars.whole));
      }),
    ));

  it('of records that are only numbered are one a period, or so many', () => {
    const numbered = makeCalendar({ zone: 'UTC', undated: true });
    const source = { time: Float64Array.of(1, 2, 3, 5).map(periodInstant), price: Float64Array.of(4, 5, 6, 7) };
    expect(Array.from(buildBars(source, parseBarRule('1 day'), numbered).time, periodNumber)).toEqual([1, 2, 3, 5]);
    expect([...buildBars(source, parseBarRule('2 trades'), numbered).close]).toEqual([5, 7]);
    expect(() => buildBars(source, parseBarRule('1 month'), numbered)).toThrow(/period numbers and no dates/);
  });

  it('refuse columns that the records do not have, and to take single values of bars', () => {
    const [source] = fc.sample(ticks, 1);
    const built = (text: string) =>
      buildBars({ ...source, numbers: { lots: source.size! } }, parseBarRule(text), calendars.whole);
    expect(() => built('1 day, take weight: sum')).toThrow(/lots/);
    expect(() => built('1 day, adjusted: toString')).toThrow(/lots/);
    expect(() => buildBars(built('1 hour'), parseBarRule('1 day, take: sum'), calendars.whole)).toThrow(/take/);
  });

  it('hold every record that is not left out, once', () =>
    fc.assert(
      fc.property(ticks, rules, calendar, (source, rule, days) => {
        const bars = buildBars(source, rule, days);
        expect(sum(bars.trades) + bars.leftOut).toBe(source.time.length);
        const kept = Array.from(source.time, (t) => (rule.allHours ? true : days.inSession(t)));
        const volume = source.size!.reduce((total, size, row) => total + (kept[row] ? size : 0), 0);
        expect(sum(bars.volume)).toBe(volume);
      }),
    ));

  it('say what their records say, in blocks too, where some prices and sizes are not known', () => {
    const holes = fc.array(fc.tuple(fc.nat(299), fc.constantFrom('price' as const, 'size' as const)), {
      maxLength: 200,
    });
    fc.assert(
      fc.property(
        ticks,
        holes,
        rules,
        calendar,
        fc.integer({ min: 1, max: 300 }),
        (source, unknown, rule, days, rows) => {
          for (const [row, column] of unknown) if (row < source.time.length) source[column]![row] = NaN;
          const builder = new BarBuilder(rule, days);
          for (let from = 0; from < source.time.length; from += rows) builder.add(slice(source, from, from + rows));
          const bars = builder.finish();
          const [price, size] = [source.price, source.size!];
          bars.time.forEach((_, bar) => {
            const all = Array.from(source.time.keys()).slice(bars.firstRecord[bar], bars.endRecord[bar]);
            const held = all.filter((row) => rule.allHours || days.inSession(source.time[row]));
            const prices = held.map((row) => price[row]).filter((one) => !Number.isNaN(one));
            const sizes = held.map((row) => size[row]).filter((one) => !Number.isNaN(one));
            const values = held.map((row) => price[row] * size[row]).filter((one) => !Number.isNaN(one));
            const total = (known: number[]) => (known.length > 0 ? known.reduce((sum, one) => sum + one, 0) : NaN);
            expect({
              open: bars.open[bar],
              high: bars.high[bar],
              low: bars.low[bar],
              close: bars.close[bar],
              volume: bars.volume[bar],
              value: bars.value[bar],
              trades: bars.trades[bar],
              berth: bars.texts!.berth[bar],
            }).toEqual({
              open: prices[0] ?? NaN,
              high: prices.length > 0 ? Math.max(...prices) : NaN,
              low: prices.length > 0 ? Math.min(...prices) : NaN,
              close: prices.at(-1) ?? NaN,
              volume: total(sizes),
              value: total(values),
              trades: held.length,
              berth: source.texts!.berth[held.at(-1)!],
            });
          });
        },
      ),
    );
  });

  it('have their open and close within low and high, and rise in time', () =>
    fc.assert(
      fc.property(ticks, rules, calendar, (source, rule, days) => {
        const { time, end, open, high, low, close } = buildBars(source, rule, days);
        const isTimed = rule.kind.by === 'interval' || rule.kind.by === 'period';
        time.forEach((start, row) => {
          expect(high[row]).toBeGreaterThanOrEqual(Math.max(open[row], close[row]));
          expect(low[row]).toBeLessThanOrEqual(Math.min(open[row], close[row]));
          if (row === 0) return;
          if (isTimed) expect(start).toBeGreaterThan(time[row - 1]);
          expect(start).toBeGreaterThanOrEqual(end[row - 1]);
        });
      }),
    ));

  it('are the same cut in blocks as cut at once', () =>
    fc.assert(
      fc.property(ticks, rules, calendar, fc.nat(300), (source, rule, days, at) => {
        const builder = new BarBuilder(rule, days);
        builder.add(slice(source, 0, at));
        builder.add(slice(source, at));
        expectSame(builder.finish(), buildBars(source, rule, days));
      }),
    ));

  it('reach a range in whole steps, between quotes too, whatever is known of the decimals', () =>
    fc.assert(
      fc.property(ticks, fc.array(fc.nat(3), { minLength: 300, maxLength: 300 }), ({ time, price }, spreads) => {
        const ask = price.map((bid, row) => Math.round(bid * 100 + spreads[row]) / 100);
        const rule = parseBarRule('range 0.5, all hours');
        const builder = new BarBuilder(rule, calendars.whole);
        builder.add({ time, bid: price, ask });
        const bars = builder.finish();
        expectSame(bars, buildBars({ time, bid: price, ask }, rule, calendars.whole));
        const halfCents = (x: number) => Math.round(x * 200);
        bars.high.forEach((high, row) => {
          const isFull = bars.complete[row] === 1;
          const range = halfCents(high) - halfCents(bars.low[row]);
          expect(isFull ? range >= 100 : range < 100).toBe(true);
        });
      }),
    ));

  it('are the same whether the records carry texts or not, or none of those they could', () =>
    fc.assert(
      fc.property(ticks, rules, calendar, (source, rule, days) => {
        const { texts: _, ...bars } = buildBars(source, rule, days);
        expectSame(buildBars({ ...source, texts: undefined }, rule, days), bars);
        expectSame(buildBars({ ...source, texts: {} }, rule, days), bars);
      }),
    ));

  it('know which records they were made of', () =>
    fc.assert(
      fc.property(ticks, runningRules.map(parseBarRule), (source, rule) => {
        const bars = buildBars(source, { ...rule, allHours: true }, calendars.session);
        bars.open.forEach((open, row) => {
          const records = source.price.slice(bars.firstRecord[row], bars.endRecord[row]);
          expect([records[0], records.at(-1)]).toEqual([open, bars.close[row]]);
          expect(records.length).toBe(bars.trades[row]);
          expect(bars.texts!.berth[row]).toBe(source.texts!.berth[bars.endRecord[row] - 1]);
        });
      }),
    ));
});

it.each([
  ['5 minutes', '1 hour'],
  ['1 minute', '15 minutes'],
  ['30 minutes', '1 day'],
  ['1 hour', '1 week'],
])('bars of %s put together to %s are those cut from the records', (small, large) =>
  fc.assert(
    fc.property(ticks, calendar, (source, days) => {
      const direct = buildBars(source, parseBarRule(large), days);
      const together = buildBars(buildBars(source, parseBarRule(small), days), parseBarRule(large), days);
      for (const field of ['time', 'end', 'open', 'high', 'low', 'close', 'volume', 'trades', 'texts'] as const)
        expect(together[field], field).toEqual(direct[field]);
    }),
  ),
);

it.each(['carry', 'blank'] as const)('an empty interval that is to `%s` does so with the texts too', (mode) =>
  fc.assert(
    fc.property(ticks, calendar, (source, days) => {
      const bars = buildBars(source, parseBarRule(`7 minutes, empty: ${mode}`), days);
      bars.texts?.berth.forEach((code, row) => {
        const isEmpty = bars.firstRecord[row] === bars.endRecord[row];
        const before = mode === 'carry' ? bars.texts!.berth[row - 1] : NaN;
        expect(code).toBe(isEmpty ? before : source.texts!.berth[bars.endRecord[row] - 1]);
      });
    }),
  ),
);

it('includes a record at the very close where the tape says so', () => {
  const at = (text: string) => Date.parse(text) * 1000;
  const source = {
    time: Float64Array.of(at('2026-03-26T16:20Z'), at('2026-03-26T16:30Z')),
    price: Float64Array.of(1, 2),
  };
  const options = { zone: 'Atlantic/Faroe', session: '08:30-16:30' };
  expect(buildBars(source, parseBarRule('15 minutes'), makeCalendar(options)).leftOut).toBe(1);
  const bars = buildBars(source, parseBarRule('15 minutes'), makeCalendar({ ...options, closeIncluded: true }));
  expect(bars.close).toEqual(Float64Array.of(2));
});

it('refuses records whose times fall, and says where', () =>
  expect(() =>
    buildBars({ time: Float64Array.of(2, 1), price: Float64Array.of(1, 1) }, parseBarRule('1 minute'), calendars.whole),
  ).toThrow('time must be in order of time, got row 1 before row 0'));

describe('a stretch of bars', () => {
  it.each(['5 minutes', '1 hour', '1 day', '1 week', '1 month', '1 quarter', '1 year'])(
    'of %s is cut from the records that cover it as from all',
    (text) =>
      fc.assert(
        fc.property(
          fc.array(fc.integer({ min: 0, max: 500 * 86_400 }), { minLength: 1, maxLength: 300 }),
          fc.integer({ min: 0, max: 500 * 86_400 }),
          fc.integer({ min: 1, max: 60 * 86_400 }),
          (seconds, start, length) => {
            const rule = parseBarRule(text);
            const calendar = makeCalendar({ zone: 'America/New_York' });
            const origin = Date.parse('2025-01-15T00:00:00Z') * 1000;
            const time = Float64Array.from(
              seconds.sort((a, b) => a - b),
              (at) => origin + at * 1e6,
            );
            const price = time.map((_, row) => 10 + (row % 7));
            const range = { from: origin + start * 1e6, to: origin + (start + length) * 1e6 };
            const covering = coveringRange(rule, calendar, range)!;
            const part = time.map((at) => (at >= covering.from && at < covering.to ? 1 : 0));
            const keep = (column: Float64Array) => column.filter((_, row) => part[row] === 1);
            const whole = buildBars({ time, price }, rule, calendar);
            const stretch = buildBars({ time: keep(time), price: keep(price) }, rule, calendar);
            const seen = (bars: typeof whole) =>
              Array.from(bars.time.keys())
                .filter((row) => bars.time[row] >= range.from && bars.time[row] < range.to)
                .map((row) => [
                  bars.time[row],
                  bars.end[row],
                  bars.open[row],
                  bars.high[row],
                  bars.low[row],
                  bars.close[row],
                  bars.trades[row],
                ]);
            expect(seen(stretch)).toEqual(seen(whole));
          },
        ),
        { numRuns: 60 },
      ),
  );
});

describe('the number of bars is bounded before they are made', () => {
  /** Two trades a century apart. */
  const far: Ticks = { time: Float64Array.of(START, START + 36_525 * 86_400e6), price: Float64Array.of(1, 2) };
  const build = (rule: string, source: Ticks, course: BuildCourse) => {
    const builder = new BarBuilder(parseBarRule(rule), calendars.whole, course);
    builder.add(source);
    return builder.finish();
  };

  it.each(['carry', 'blank'])('where empty intervals are filled: %s', (empty) => {
    expect(() => build(`1 second, empty: ${empty}`, far, new BuildCourse(100_000))).toThrow(TooManyBarsError);
    expect(build(`1 week, empty: ${empty}`, far, new BuildCourse(10_000)).time.length).toBeLessThan(5300);
  });

  it('where each record makes one', () => {
    const rows = 10_000;
    const time = Float64Array.from({ length: rows }, (_, row) => START + row * 1e6);
    const source = { time, price: new Float64Array(rows).fill(1), size: new Float64Array(rows).fill(1) };
    expect(() => build('1 trades, all hours', source, new BuildCourse(5000))).toThrow('more than 5,000 bars');
    expect(build('1 trades, all hours', source, new BuildCourse(rows)).time.length).toBe(rows);
  });

  it('and whoever waits for them can stop them', () => {
    class Stopped extends Error {}
    const stop = () => {
      throw new Stopped();
    };
    expect(() => build('1 second, empty: carry', far, new BuildCourse(Infinity, stop))).toThrow(Stopped);
  });
});
