import fc from 'fast-check';
import { expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import type { Ticks } from '../records/ticks.js';
import { parseBarRule } from './barRule.js';
import { cutBefore } from './barStretches.js';
import { BarBuilder } from './buildBars.js';

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
]);

/** Trades hours apart, with sizes that no double is, numbers that are missing at times, and words. */
const ticks = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 20_000 }), fc.integer({ min: 900, max: 1100 }), fc.nat(999)), {
    ...{ minLength: 1, maxLength: 120 },
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
  const kept = Array.from(source.time.keys()).filter((row) => source.time[row] >= from && source.time[row] < to);
  const part = (column: Float64Array) => Float64Array.from(kept, (row) => column[row]);
  return {
    ...{ time: part(source.time), price: part(source.price), size: part(source.size!) },
    side: Int8Array.from(kept, (row) => source.side![row]),
    texts: { berth: part(source.texts!.berth) },
    numbers: { lots: part(source.numbers!.lots) },
  };
}

it('bars of stretches that are cut apart and put together are those of the whole, to the last bit', () =>
  fc.assert(
    fc.property(
      ticks,
      fc.constantFrom(...KINDS, ...RUNNING).map(parseBarRule),
      fc.constantFrom(...CALENDARS),
      fc.array(fc.integer({ min: -86_400, max: 2_000_000 }), { maxLength: 6 }),
      (source, rule, calendar, wanted) => {
        const cuts = [...new Set(wanted.map((at) => cutBefore(rule, calendar, START + at * 1e6)!))].sort(
          (a, b) => a - b,
        );
        const ends = [-Infinity, ...cuts, Infinity];
        const stretches = ends.slice(1).map((to, at) => {
          const builder = new BarBuilder(rule, calendar);
          const own = between(source, ends[at], to);
          const middle = own.time[own.time.length >> 1] ?? 0;
          builder.add(between(own, -Infinity, middle));
          builder.add(between(own, middle, Infinity));
          return builder.stretch();
        });
        const whole = new BarBuilder(rule, calendar);
        whole.add(source);
        expect(new BarBuilder(rule, calendar).joined(stretches)).toEqual(whole.finish());
      },
    ),
    { numRuns: 1000 },
  ));

it('where running totals go on over the days, nothing can be cut apart', () => {
  for (const calendar of CALENDARS) {
    expect(cutBefore(parseBarRule('3 trades'), calendar, START)).toBeUndefined();
    expect(cutBefore(parseBarRule('range 0.5, all hours'), calendar, START)).toBeUndefined();
  }
});
