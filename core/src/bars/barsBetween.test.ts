import fc from 'fast-check';
import { expect, it } from 'vitest';
import { barsBetween } from './barsBetween.js';
import { BAR_FIELDS, type Bars } from './bars.js';

const MINUTE = 60e6;

function barsOf(rows: number): Bars {
  const column = (of: (row: number) => number) => Float64Array.from({ length: rows }, (_, row) => of(row));
  const fields = Object.fromEntries(BAR_FIELDS.map((name, at) => [name, column((row) => 100 * at + row)]));
  return {
    ...(fields as Record<(typeof BAR_FIELDS)[number], Float64Array>),
    time: column((row) => row * MINUTE),
    end: column((row) => (row + 1) * MINUTE),
    complete: new Uint8Array(rows).fill(1),
    texts: { quay: column((row) => row % 2) },
    numbers: { lots: column((row) => row * row) },
  };
}

it('bars of a stretch are those that start in it, each column of them, with the number of those before', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 40 }),
      fc.integer({ min: -3, max: 45 }),
      fc.integer({ min: -3, max: 45 }),
      fc.integer({ min: 0, max: MINUTE - 1 }),
      (rows, first, end, within) => {
        const all = barsOf(rows);
        const [from, to] = [first * MINUTE - within, end * MINUTE - within];
        const { bars, before } = barsBetween(all, from, to);
        const wanted = Array.from(all.time.keys()).filter((row) => all.time[row] >= from && all.time[row] < to);
        expect(before).toBe(wanted[0] ?? before);
        expect(bars.complete.length).toBe(wanted.length);
        for (const name of BAR_FIELDS) expect(Array.from(bars[name])).toEqual(wanted.map((row) => all[name][row]));
        expect(Array.from(bars.texts!.quay)).toEqual(wanted.map((row) => row % 2));
        expect(Array.from(bars.numbers!.lots)).toEqual(wanted.map((row) => row * row));
      },
    ),
  ));

it('all bars are those of an open stretch', () => {
  const all = barsOf(9);
  const { bars, before } = barsBetween(all, -Infinity, Infinity);
  expect([before, bars]).toEqual([0, all]);
});
