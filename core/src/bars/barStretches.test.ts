import fc from 'fast-check';
import { expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import type { Ticks } from '../records/ticks.js';
import { firstRowFrom } from '../numeric/search.js';
import type { Calendar } from '../time/calendar.js';
import type { BarRule } from './barKind.js';
import { parseBarRule } from './barRule.js';
import { areJoinable, cutBefore, runsOn, type BarStretch } from './barStretches.js';
import { BarBuilder, buildBars } from './buildBars.js';
import { firstStarts, RunningStarts } from './runningStarts.js';
import { StretchBuilder } from './stretchBuilder.js';

const START = Date.parse('2026-03-20T07:00:00Z') * 1000; // some days before a change of clocks
const CALENDARS = [
  makeCalendar({ zone: 'Atlantic/Faroe', session: '08:30-16:30', weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'] }),
  makeCalendar({ zone: 'America/Santiago' }),
  makeCalendar({ zone: 'America/Chicago', session: '17:00-16:00' }),
];
const KINDS = ['7 minutes', '4 hours', '1 day', '1 week', '1 month'].flatMap((kind) => [
  ...[kind, `${kind}, all hours`, `${kind}, empty: carry`, `${kind}, empty: blank, side: buy`],
  `${kind}, take: mean, take lots: sum`,
]);
const RUNNING = ['3 trades', '300.5 units', '20000 value', 'range 0.5'].flatMap((kind) => [
  ...[`${kind}, restart: day`, `${kind}, all hours, restart: day, side: sell`],
  ...[kind, `${kind}, all hours, take: sum`, `${kind}, side: buy, take lots: mean`],
]);

/** Trades hours apart, with sizes that no double is, numbers that are missing at times, and words. */
const ticks = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 900, max: 1100 }), fc.nat(999)), {
    ...{ minLength: 1, maxLength: 120, size: 'max' },
  })
  .map((rows): Ticks => {
    let time = START;
    return {
      time: Float64Array.from(rows, ([wait]) => (time += wait * 1e6)),
      price: Float64Array.from(rows, ([, price]) => price / 10),
      size: Float64Array.from(rows, ([, , size]) => size / 7),
      side: Int8Array.from(rows, ([wait]) => (wait % 2 === 0 ? 1 : -1)),
      texts: { berth: Float64Array.from(rows, ([wait]) => wait % 3) },
      numbers: { lots: Float64Array.from(rows, ([, price]) => (price % 4 === 0 ? NaN : price / 3)) },
    };
  });

/** The records of a source whose times lie in [from, to). */
function between(source: Ticks, from: number, to: number): Ticks {
  const [first, end] = [firstRowFrom(source.time, from), firstRowFrom(source.time, to)];
  const part = (column: Float64Array) => column.slice(first, end);
  return {
    ...{ time: part(source.time), price: part(source.price), size: part(source.size!) },
    side: source.side!.slice(first, end),
    texts: { berth: part(source.texts!.berth) },
    numbers: { lots: part(source.numbers!.lots) },
  };
}

/** Has something read each stretch, in two blocks, and as much of what follows as it wants, a few records at a time. */
function throughEach<Reader extends RunningStarts | StretchBuilder>(
  source: Ticks,
  ends: readonly number[],
  readerOf: (stretch: number) => Reader,
): Reader[] {
  return ends.slice(1).map((to, at) => {
    const reader = readerOf(at);
    const own = between(source, ends[at], to);
    const middle = own.time[own.time.length >> 1] ?? 0;
    reader.add(between(own, -Infinity, middle));
    reader.add(between(own, middle, Infinity));
    const { time } = between(source, to, Infinity);
    for (let row = 0; row < time.length && reader.wantsMore; row += 9)
      reader.goOn(between(source, time[row], time[row + 9] ?? Infinity));
    return reader;
  });
}

/** Where the first bar of each stretch begins, as far as totals tell. */
function startsOf(source: Ticks, ends: readonly number[], rule: BarRule, calendar: Calendar): number[] | undefined {
  const readers = throughEach(source, ends, () => new RunningStarts(rule, calendar)).slice(0, -1);
  return firstStarts(readers.map((reader) => reader.starts()));
}

/** The bars of stretches, each cut for itself. */
function stretchesOf(source: Ticks, ends: readonly number[], rule: BarRule, calendar: Calendar): BarStretch[] {
  const starts = (runsOn(rule) && startsOf(source, ends, rule, calendar)) || [];
  const skipsOf = (at: number) => ({ own: starts[at] ?? 0, next: starts[at + 1] ?? 0 });
  return throughEach(source, ends, (at) => new StretchBuilder(rule, calendar, undefined, skipsOf(at))).map((builder) =>
    builder.stretch(),
  );
}

it('bars of stretches that are cut apart and put together are those of the whole, to the last bit', () => {
  let joined = 0;
  let apart = 0;
  fc.assert(
    fc.property(
      ticks,
      fc.constantFrom(...KINDS, ...RUNNING).map(parseBarRule),
      fc.constantFrom(...CALENDARS),
      fc.array(fc.integer({ min: -10, max: 110 }), { maxLength: 4 }),
      (source, rule, calendar, wanted) => {
        const span = source.time.at(-1)! - START;
        const instants = wanted.map((percent) => START + Math.round((percent * span) / 100));
        const cuts = [...new Set(instants.map((at) => cutBefore(rule, calendar, at)!))].sort((a, b) => a - b);
        const ends = [-Infinity, ...cuts, Infinity];
        const stretches = stretchesOf(source, ends, rule, calendar);
        if (!areJoinable(stretches)) {
          expect(runsOn(rule)).toBe(true);
          return void apart++;
        }
        if (runsOn(rule) && stretches.filter(({ records }) => records > 0).length > 1) joined++;
        const whole = new BarBuilder(rule, calendar);
        whole.add(source);
        expect(new BarBuilder(rule, calendar).joined(stretches)).toEqual(whole.finish());
      },
    ),
    { numRuns: 300 },
  );
  // where bars run on they meet, unless a stretch is too short for that
  expect(joined).toBeGreaterThan(apart);
});

it('where bars that run on begin in a stretch is known from totals, whatever comes before it', () => {
  const rows = 5000;
  const random = fc.sample(fc.tuple(fc.integer({ min: 990, max: 1010 }), fc.integer({ min: 1, max: 90 })), {
    ...{ numRuns: rows, seed: 7 },
  });
  const source: Ticks = {
    time: Float64Array.from(random, (_, row) => START + row * 1e6),
    price: Float64Array.from(random, ([price]) => price / 10),
    size: Float64Array.from(random, ([, size]) => size / 10),
    side: new Int8Array(rows),
    texts: { berth: new Float64Array(rows) },
    numbers: { lots: new Float64Array(rows) },
  };
  const ends = [0, 1200, 1203, 2900, rows].map((row) => START + row * 1e6);
  for (const text of ['700 trades', '1 trade', '900 units', '0.3 units', '50000 value', 'range 1.9', 'range 0.1']) {
    const rule = parseBarRule(`${text}, all hours`);
    const whole = buildBars(source, rule, CALENDARS[1]);
    const starts = startsOf(source, ends, rule, CALENDARS[1]);
    const known = ends.slice(0, -1).map((end) => {
      const row = (end - START) / 1e6;
      return whole.firstRecord.find((record) => record >= row)! - row;
    });
    expect({ text, starts }).toEqual({ text, starts: known });
    // so that stretches meet at once, and are the whole
    const stretches = stretchesOf(source, ends, rule, CALENDARS[1]);
    expect(stretches.slice(0, -1).map(({ goesOn }) => goesOn)).toEqual(known.slice(1));
    expect(new BarBuilder(rule, CALENDARS[1]).joined(stretches)).toEqual(whole);
  }
});

it('series that stay as far apart as they were do not meet, and are given up', () => {
  const time = Float64Array.from({ length: 300_000 }, (_, row) => START + row * 1e6);
  const ones = new Float64Array(time.length).fill(1);
  const builder = new StretchBuilder(parseBarRule('7 units, all hours'), CALENDARS[1]);
  builder.add({ time: time.subarray(0, 100), price: ones.subarray(0, 100), size: ones.subarray(0, 100) });
  let row = 100;
  for (; builder.wantsMore && row < time.length; row += 1000) {
    const [part, own] = [time.subarray(row, row + 1000), ones.subarray(row, row + 1000)];
    builder.goOn({ time: part, price: own, size: own });
  }
  expect(row).toBeLessThan(200_000);
  expect(builder.stretch().goesOn).toBeNaN();
});

it('where a bar is larger than what was read, it is not known where the next begins', () => {
  const reader = new RunningStarts(parseBarRule('range 5, all hours'), CALENDARS[1]);
  reader.add({ time: Float64Array.of(START, START + 1), price: Float64Array.of(9, 10) });
  expect([reader.wantsMore, firstStarts([reader.starts()])]).toEqual([true, undefined]);
  reader.goOn({ time: Float64Array.of(START + 2, START + 3), price: Float64Array.of(12, 14) });
  // it is of a bar that begins with the first record, and not yet of one that begins with the second
  expect([reader.wantsMore, firstStarts([reader.starts()])]).toEqual([true, [0, 2]]);
  expect(reader.starts().behind).toEqual(Float64Array.of(2, NaN));
  reader.goOn({ time: Float64Array.of(START + 4), price: Float64Array.of(15) });
  expect([reader.wantsMore, firstStarts([reader.starts()])]).toEqual([false, [0, 2]]);
});

it('where records cannot be cut into bars of a rule, both refuse them in the same words', () => {
  const unsized = { time: Float64Array.of(START, START + 1), price: Float64Array.of(9, 10) };
  for (const text of ['7 units', '7 value']) {
    const rule = parseBarRule(text);
    for (const reader of [new RunningStarts(rule, CALENDARS[1]), new StretchBuilder(rule, CALENDARS[1])])
      expect(() => reader.add(unsized)).toThrow('the records have no sizes');
  }
});

it('numbered periods cannot be cut apart: they have no instants', () => {
  const undated = makeCalendar({ zone: 'UTC', undated: true });
  expect(cutBefore(parseBarRule('3 trades'), undated, 5)).toBeUndefined();
});
