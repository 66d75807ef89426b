import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import { parseBarRule } from './barRule.js';
import { barsToCome } from './barsToCome.js';
import { BarBuilder, buildBars } from './buildBars.js';

const at = (text: string) => Date.parse(text) * 1000;
const iso = (instants: Float64Array) =>
  Array.from(instants, (instant) => new Date(instant / 1000).toISOString().slice(0, 16));
const tarn = makeCalendar({
  zone: 'Atlantic/Faroe',
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  closed: ['2026-04-06'],
});

describe('the times of bars to come', () => {
  it.each([
    ['go on within the session', '4 hours', '2026-02-02T08:30Z', ['2026-02-02T12:30', '2026-02-03T08:30']],
    [
      'pass over the weekend and a closed date',
      '4 hours',
      '2026-04-03T11:30Z',
      ['2026-04-07T07:30', '2026-04-07T11:30'],
    ],
    [
      'follow the clock of the market through its change',
      '1 day',
      '2026-03-27T08:30Z',
      ['2026-03-30T07:30', '2026-03-31T07:30'],
    ],
    ['are those of months too', '1 month', '2026-01-01T08:30Z', ['2026-02-02T08:30', '2026-03-02T08:30']],
    [
      'leave no hour out where all are kept',
      '12 hours, all hours',
      '2026-02-06T08:30Z',
      ['2026-02-06T20:30', '2026-02-07T00:00'],
    ],
  ])('%s', (_, rule, last, wanted) =>
    expect(iso(barsToCome(parseBarRule(rule), tarn, at(last), 2).start)).toEqual(wanted),
  );

  it('are not known where bars do not go by the clock', () =>
    expect(barsToCome(parseBarRule('500 trades'), tarn, at('2026-02-02T08:30Z'), 3).start.length).toBe(0));

  it('are the starts of the bars that then come', () =>
    fc.assert(
      fc.property(
        fc.constantFrom('7 minutes', '1 hour', '1 day', '1 week', '1 quarter'),
        fc.integer({ min: 0, max: 400 }),
        (text, days) => {
          const rule = parseBarRule(text);
          const opening = tarn.openDayAfter(Math.floor(at('2025-01-01T00:00Z') / 86_400e6) + days).opensAt;
          const [first] = barsToCome(rule, tarn, firstStart(opening), 1).start;
          const { start: coming, end } = barsToCome(rule, tarn, first, 20);
          coming.forEach((start, bar) => expect(end[bar]).toBeGreaterThan(start));
          end.subarray(0, -1).forEach((one, bar) => expect(one).toBeLessThanOrEqual(coming[bar + 1]));
          const time = coming;
          const bars = buildBars({ time, price: new Float64Array(20).fill(1) }, rule, tarn);
          expect(bars.time).toEqual(coming);

          function firstStart(instant: number): number {
            return buildBars({ time: Float64Array.of(instant), price: Float64Array.of(1) }, rule, tarn).time[0];
          }
        },
      ),
      { numRuns: 60 },
    ));
});

describe('limits in whole steps', () => {
  const calendar = makeCalendar({ zone: 'UTC' });
  /** Prices in ticks of a step, sizes in lots of another: what a bar holds can be counted in whole numbers. */
  const records = fc.array(fc.tuple(fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 30 })), {
    minLength: 1,
    maxLength: 120,
  });
  const steps = fc.constantFrom(1, 10, 100, 1000);

  /** Where bars end, by the definition: in whole numbers, a record at a time. */
  function endsOf(rows: readonly [number, number][], isFull: (bar: readonly [number, number][]) => boolean): number[] {
    const ends: number[] = [];
    let from = 0;
    rows.forEach((_, row) => {
      if (!isFull(rows.slice(from, row + 1))) return;
      ends.push(row + 1);
      from = row + 1;
    });
    return from < rows.length ? [...ends, rows.length] : ends;
  }

  /** Without an exponent, which rules do not know. */
  const plain = (limit: number) => limit.toFixed(9);
  const lots = (bar: readonly [number, number][]) => bar.reduce((sum, [, size]) => sum + size, 0);
  const worth = (bar: readonly [number, number][]) => bar.reduce((sum, [price, size]) => sum + price * size, 0);
  const reach = (bar: readonly [number, number][]) =>
    Math.max(...bar.map(([price]) => price)) - Math.min(...bar.map(([price]) => price));

  it.each([
    ['units', lots, (limit: number, _: number, lot: number) => `${plain(limit / lot)} units`],
    ['value', worth, (limit: number, tick: number, lot: number) => `${plain(limit / tick / lot)} value`],
    ['range', reach, (limit: number, tick: number) => `range ${plain(limit / tick)}`],
  ])('bars of %s end with the very record that reaches the limit, cut at once or in blocks', (_, total, written) =>
    fc.assert(
      fc.property(
        records,
        steps,
        steps,
        fc.integer({ min: 1, max: 90 }),
        fc.integer({ min: 1, max: 40 }),
        (rows, tick, lot, limit, blockRows) => {
          const column = (of: (row: [number, number]) => number) => Float64Array.from(rows, of);
          const time = Float64Array.from(rows, (_row, index) => index * 1e6);
          const source = { time, price: column(([price]) => price / tick), size: column(([, size]) => size / lot) };
          const rule = parseBarRule(written(limit, tick, lot));
          const wanted = endsOf(rows, (bar) => total(bar) >= limit);
          expect([...buildBars(source, rule, calendar).endRecord]).toEqual(wanted);
          // between two steps a limit is reached with the upper one
          const between = parseBarRule(written(limit - 0.5, tick, lot));
          expect([...buildBars(source, between, calendar).endRecord]).toEqual(wanted);
          const builder = new BarBuilder(rule, calendar);
          for (let from = 0; from < rows.length; from += blockRows) {
            const part = (whole: Float64Array) => whole.slice(from, from + blockRows);
            const block = { time: part(time), price: part(source.price), size: part(source.size) };
            builder.add(block);
            for (const given of Object.values(block)) given.fill(NaN); // a block may be written over
          }
          expect([...builder.finish().endRecord]).toEqual(wanted);
        },
      ),
    ),
  );
});
