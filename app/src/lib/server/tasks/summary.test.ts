import { evaluate } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { StoredTape } from '../store/tapeRows';
import { summaryOf } from './summary';

/* The figures of a tape's page are those of its records, however these lie in chunks. */

const HOUR = 3600e6;
// before 1970, and about the night in which clocks go forward
const STARTS = ['1969-12-31T22:00:00Z', '2026-03-28T00:00:00Z'].map((text) => Date.parse(text) * 1000);
const [, START] = STARTS;
const WORDS = ['North Quay', 'Bell House'];

const record = fc.record({
  wait: fc.integer({ min: 0, max: 40_000 }),
  price: fc.oneof({ weight: 6, arbitrary: fc.integer({ min: 1, max: 1e6 }) }, fc.constant(NaN)),
  word: fc.constantFrom(0, 1),
});
const records = fc.array(record, { minLength: 1, maxLength: 60 });

async function summarised(rows: { time: number; price: number; word: number }[], chunkRows: number) {
  const column = (name: 'time' | 'price' | 'word') => Float64Array.from(rows, (row) => row[name]);
  const whole = { time: column('time'), price: column('price'), berth: column('word') };
  const tape = {
    zone: 'Atlantic/Faroe',
    rows: rows.length,
    columns: ['time', 'price', 'line', 'flags'],
    texts: [{ name: 'berth', title: 'Berth', column: 'text:berth', words: WORDS }],
    numbers: [],
    precision: 'moment',
  } as unknown as StoredTape;
  return summaryOf(
    tape,
    (async function* () {
      for (let from = 0; from < rows.length; from += chunkRows) {
        const part = (values: Float64Array) => values.slice(from, from + chunkRows);
        yield { time: part(whole.time), price: part(whole.price), 'text:berth': part(whole.berth) };
      }
    })(),
  );
}

describe('the summary of a tape', () => {
  const both = fc.tuple(records, fc.integer({ min: 1, max: 20 }), fc.constantFrom(...STARTS)).map((given) => {
    const [waits, chunkRows, start] = given;
    let time = start;
    return { rows: waits.map(({ wait, ...rest }) => ({ time: (time += wait * 1e6), ...rest })), chunkRows };
  });

  it('has count, mean, deviation, extremes and quartiles of each column', () =>
    fc.assert(
      fc.asyncProperty(both, async ({ rows, chunkRows }) => {
        const [price] = (await summarised(rows, chunkRows)).columns;
        const valid = rows.map((row) => row.price).filter((value) => !Number.isNaN(value));
        const mean = valid.reduce((sum, value) => sum + value, 0) / valid.length;
        const squares = valid.reduce((sum, value) => sum + (value - mean) ** 2, 0);
        expect(price).toMatchObject({ name: 'price', count: valid.length, missing: rows.length - valid.length });
        if (valid.length === 0) {
          expect(price).toMatchObject({ mean: null, min: null, median: null, max: null });
          return;
        }
        expect(price.mean).toBeCloseTo(mean, 6);
        if (valid.length > 1) expect(price.stdev! / Math.sqrt(squares / (valid.length - 1)) || 1).toBeCloseTo(1, 9);
        else expect(price.stdev).toBe(null);
        const frame = { time: Float64Array.from(valid.keys()), columns: { x: Float64Array.from(valid) } };
        const at = (p: number) => evaluate([`q = quantile(x, all, p: ${p})`], frame)[0].values.at(-1)!;
        expect(price).toMatchObject({ min: Math.min(...valid), max: Math.max(...valid) });
        for (const [found, p] of [
          [price.q1, 0.25],
          [price.median, 0.5],
          [price.q3, 0.75],
        ] as const)
          expect(found).toBeCloseTo(at(p), 6);
      }),
    ));

  it('counts words, and records by the hour of the market’s clock, also where that changes', () =>
    fc.assert(
      fc.asyncProperty(both, async ({ rows, chunkRows }) => {
        const { words, hours } = await summarised(rows, chunkRows);
        const counts = Object.fromEntries(words[0].words.map(({ word, count }) => [word, count]));
        const wanted = WORDS.map((_, code) => rows.filter(({ word }) => word === code).length);
        expect(WORDS.map((word) => counts[word])).toEqual(wanted);
        const clock = new Intl.DateTimeFormat('en-GB', {
          hour: '2-digit',
          hourCycle: 'h23',
          timeZone: 'Atlantic/Faroe',
        });
        const wantedHours = new Array<number>(24).fill(0);
        for (const { time } of rows) wantedHours[Number(clock.format(time / 1000))]++;
        expect(hours).toEqual(wantedHours);
      }),
    ));

  it('tells how often records come, by the middle of the gaps between instants', async () => {
    const at = (hours: number) => ({ time: START + hours * HOUR, price: 1, word: 0 });
    expect((await summarised([0, 1, 1, 2, 7].map(at), 2)).usualGapSeconds).toBe(3600);
    expect((await summarised([at(0)], 2)).usualGapSeconds).toBe(null);
  });
});
