import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { instantOf, rfc3339 } from '@jaunty-ledger/core';
import { kindText, nameFor, spanText, sparkPath, stateText } from './shelfModel';

/* What the shelf says of a tape, in few words. */

describe('the span of a tape', () => {
  it.each([
    ['2026-02-02T08:30:00Z', '2026-02-02T16:00:00Z', '2 Feb 2026'],
    ['2026-02-02T08:30:00Z', '2026-04-24T16:00:00Z', '2 Feb to 24 Apr 2026'],
    ['2019-12-30T08:30:00Z', '2026-04-24T16:00:00Z', '30 Dec 2019 to 24 Apr 2026'],
  ])('from %s to %s is %s', (from, to, text) => expect(spanText({ from, to, precision: 'moment' })).toBe(text));
});

it.each([
  ['ticks', null, 'trades'],
  ['quotes', null, 'quotes'],
  ['series', null, 'dated values'],
  ['bars', '1 minute', 'records of 1 minute'],
  ['bars', null, 'records of some length'],
] as const)('a tape of %s (%s) holds %s', (kind, interval, text) => expect(kindText({ kind, interval })).toBe(text));

describe('the state of the checks', () => {
  it.each([
    [0, 0, 0, 'whole'],
    [1, 0, 0, '1 line left out'],
    [2, 3, 0, '2 lines left out, 3 flagged'],
    [0, 0, 4, '4 sorted into place'],
  ])('%i left out, %i flagged, %i sorted', (leftOut, flagged, sorted, text) =>
    expect(stateText({ leftOut, flagged, sorted })).toBe(text),
  );
});

describe('the name of a tape', () => {
  it.each([
    ['morning trades.csv', [], 'MORNING_TRADES'],
    ['kelp.csv.gz', [], 'KELP_CSV'],
    ['2026 trades.csv', [], 'T_2026_TRADES'],
    ['kelp.csv', ['Kelp'], 'KELP_2'],
    ['kelp.csv', ['KELP', 'KELP_2'], 'KELP_3'],
  ])('of %s beside %o is %s', (file, taken, name) => expect(nameFor(file, taken)).toBe(name));

  it('fits formulas and is not taken, whatever the file is called', () =>
    fc.assert(
      fc.property(fc.string(), fc.array(fc.string()), (file, taken) => {
        const name = nameFor(file, taken);
        expect(name).toMatch(/^[A-Z][A-Z0-9_]*$/);
        expect(taken.map((other) => other.toUpperCase())).not.toContain(name);
      }),
    ));
});

describe('the small picture', () => {
  it('begins at the left, ends at the right, and stays in its box', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 60 }),
        (values) => {
          const points = [...sparkPath(values, 100, 20).matchAll(/[ML]([\d.]+) ([\d.-]+)/g)].map(([, x, y]) => [
            Number(x),
            Number(y),
          ]);
          expect([points[0][0], points.at(-1)![0]]).toEqual([0, 100]);
          for (const [, y] of points) expect(y >= 0 && y <= 20).toBe(true);
        },
      ),
    ));

  it('of nothing is nothing', () => expect(sparkPath([], 100, 20)).toBe(''));
});

describe('an instant as text', () => {
  it('has as many decimals as it needs, and reads back as itself', () => {
    expect(rfc3339(1770021000e6)).toBe('2026-02-02T08:30:00Z');
    expect(rfc3339(1770021000e6 + 15_000)).toBe('2026-02-02T08:30:00.015Z');
    fc.assert(
      fc.property(fc.integer({ min: -4e15, max: 4e15 }), (instant) => {
        expect(instantOf(rfc3339(instant))).toBe(instant);
      }),
    );
  });

  it('that is none is not a number', () => expect(instantOf('tomorrow')).toBeNaN());
});
