import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CompareBody } from '$lib/api/pages';
import type { Tape } from '$lib/api/tapes';
import { addressOf, betaOf, comparedOf, readMember, splitMembers } from './compareAddress';
import { spreadOut, standingOf } from './standing';

const tape = (name: string, kind: string, year = 2026, spark = [1, 2]) =>
  ({
    ...{ name, kind, spark, interval: null, rows: 9000, precision: 'moment', calendar: null },
    ...{ from: `${year}-02-02T08:30:00Z`, to: `${year}-04-02T16:30:00Z` },
  }) as unknown as Tape;
const TAPES = [
  ...[tape('KELP', 'ticks'), tape('KELP_days', 'series'), tape('LAMP', 'ticks'), tape('WOOL', 'ticks')],
  tape('CALLS', 'series', 2026, [0, 3, 1]),
  tape('OLD_LAMP', 'ticks', 1990), // which has no time in common with the others
];
const usual = { tape: 'LAMP', bars: '1 hour' };

describe('the address of a comparison', () => {
  it('holds all that the page shows', () =>
    fc.assert(
      fc.property(
        fc.record({
          page: fc.constant('compare' as const),
          members: fc.array(
            fc.record({ tape: fc.constantFrom('KELP', 'LAMP_days'), entry: fc.constantFrom('close', 'high - low') }),
            { minLength: 1, maxLength: 5 },
          ),
          bars: fc.constantFrom('1 hour', '500 trades'),
          from: fc.constantFrom('', '2026-02-02T08:30:00Z'),
          to: fc.constantFrom('', '2026-03-02T08:30:00Z'),
          scale: fc.constantFrom('rebased' as const, 'raw' as const, 'percent' as const),
          base: fc.constantFrom('', '2026-02-09T08:30:00Z'),
          smooth: fc.integer({ min: 1, max: 500 }),
          average: fc.constantFrom('equal' as const, 'held' as const, 'none' as const),
          rows: fc.constantFrom('common' as const, 'all' as const, 'carried' as const),
          of: fc.constantFrom('returns' as const, 'levels' as const),
          window: fc.integer({ min: 2, max: 500 }),
          order: fc.constantFrom('given' as const, 'name' as const, 'likeness' as const),
          matrix: fc.constantFrom('window' as const, 'all' as const),
          a: fc.nat(9),
          b: fc.nat(9),
          by: fc.constantFrom('spread' as const, 'ratio' as const),
          beta: fc.constantFrom('1', '0.8', 'all', '60 rows'),
          partedBy: fc.constantFrom('correlation' as const, 'deviations' as const),
          behind: fc.integer({ min: 2, max: 500 }),
          begin: fc.option(fc.constantFrom(0.2, 2.5), { nil: null }),
          end: fc.option(fc.constantFrom(0, 0.75), { nil: null }),
          strong: fc.integer({ min: -1, max: 9 }),
          notes: fc
            .array(fc.tuple(fc.constant('2026-02-09T08:30:00Z'), fc.constantFrom('', 'parted here', 'a = b & c')), {
              maxLength: 2,
            })
            .map((all) => all.map(([at, text], place) => ({ id: `note-${place}`, at, text }))),
        }),
        (compared) => {
          const { searchParams } = new URL(addressOf(compared, 3), 'http://x');
          expect(comparedOf(searchParams, usual, TAPES)).toEqual(compared);
        },
      ),
    ));

  it('that says nothing, or nonsense, is of the tapes of one kind', () => {
    const { members, window } = comparedOf(new URLSearchParams('window=x&strong=1.5&member=%20'), usual, TAPES);
    expect(members.map((member) => member.tape)).toEqual(['LAMP', 'KELP', 'WOOL']);
    expect(window).toBe(CompareBody.shape.window.parse(undefined));
    // those of the same file before all others that could be compared
    const ofFile = [...TAPES, tape('PORT_north', 'ticks'), tape('PORT_south', 'ticks')];
    const { members: columns } = comparedOf(new URLSearchParams(), { ...usual, tape: 'PORT_north' }, ofFile);
    expect(columns.map((member) => member.tape)).toEqual(['PORT_north', 'PORT_south']);
    // of counts and the like the levels are averaged, unless the returns are wanted
    const averageOf = (query: string) => comparedOf(new URLSearchParams(query), usual, TAPES).average;
    expect([averageOf(''), averageOf('member=KELP_days'), averageOf('member=KELP_days&average=equal')]).toEqual([
      'equal',
      'held',
      'equal',
    ]);
    // values at or below 0 have neither returns nor a hundredth of the first
    const waysOf = (query: string) => {
      const { scale, of } = comparedOf(new URLSearchParams(query), usual, TAPES);
      return [scale, of];
    };
    expect(waysOf('member=KELP_days')).toEqual(['rebased', 'returns']);
    expect(waysOf('member=KELP_days&member=CALLS')).toEqual(['raw', 'levels']);
    expect(waysOf('member=CALLS&scale=percent&of=returns')).toEqual(['percent', 'returns']);
  });

  it.each([
    ['KELP', { tape: 'KELP', entry: 'close' }],
    [' KELP : mean(close, 20 bars) ', { tape: 'KELP', entry: 'mean(close, 20 bars)' }],
    ['9KELP', undefined],
    ['KELP close', undefined],
    ['__proto__: close', undefined],
  ])('the member %j is %j', (text, member) => expect(readMember(text)).toEqual(member));

  it('members stand with commas between, but for those of a formula', () =>
    expect(splitMembers('KELP, SALT: mean(close, 20 bars), ,LAMP')).toEqual([
      'KELP',
      'SALT: mean(close, 20 bars)',
      'LAMP',
    ]));

  it.each([
    ['all', 'all'],
    ['0.8', 0.8],
    ['60 rows', { rows: 60 }],
  ])('beta %s is %j', (text, beta) => expect(betaOf(text)).toEqual(beta));
});

describe('how a line stands to the average', () => {
  const line = (...values: number[]) => Float64Array.from(values);
  const zero = new Float64Array(8);
  it.each([
    [line(1, 2, 3, 4, 5, 6, 7, 8), 'steadily above, rising'],
    [line(-8, -7.9, -7.8, -6, -6, -5, -4, -3), 'steadily below, rising'],
    [line(4, 3, 2, 1, -1, -2, -3, -4), 'below, falling'],
    [line(5, -5, 5, -5, 5, 0.1, 0.1, 0.1), 'at it, level'],
    [line(NaN, NaN, 1, NaN, NaN, NaN, NaN, NaN), ''],
  ])('%j is %j', (values, says) =>
    expect(standingOf({ values, factor: 1 }, { values: zero, factor: 1 }, 0, 8)).toBe(says),
  );
});

it('texts beside values keep their order, stay apart and within the height', () =>
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 300, noNaN: true }), { maxLength: 15 }), (places) => {
      const spread = spreadOut(places, 14, 300);
      const sorted = places.map((place, at) => ({ place, at })).sort((a, b) => a.place - b.place);
      const inOrder = sorted.map(({ at }) => spread[at]);
      inOrder.slice(1).forEach((place, at) => expect(place - inOrder[at]).toBeGreaterThanOrEqual(14 - 1e-9));
      for (const place of spread) expect(place).toBeLessThanOrEqual(300);
    }),
  ));
