import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { RollRow } from '$lib/works/roll/work';
import { addressOf, rolledOf } from './rollAddress';
import { commonExtent, filteredBy, sortedBy } from './rollRows';

const row = (tape: string, values: Record<string, number | null>): RollRow => ({
  ...{ tape, version: 1, rule: '1 day', bars: 9, at: null },
  values: Object.entries(values).map(([name, last]) => ({
    ...{ name, unit: 'number', last, before: null, spark: [0, last] },
  })),
});
const ROWS = [
  row('KELP', { memory: 0.7, wild: 0.01 }),
  row('SALT', { memory: 0.4, wild: 0.03 }),
  row('TIDE10', { memory: 0.9, wild: 0.05 }),
  row('TIDE9', { memory: null, wild: 0.005 }),
  { ...row('WOOL', {}), refused: 'the rule is too fine' },
];
const tapes = (rows: RollRow[] | string) => (typeof rows === 'string' ? rows : rows.map(({ tape }) => tape));

describe('the rows of a roll', () => {
  it.each([
    ['', ['KELP', 'SALT', 'TIDE10', 'TIDE9', 'WOOL']],
    ['memory > 0.6 and wild < 0.02', ['KELP']],
    ['not (memory > 0.6)', ['SALT']],
    ['memroy > 0.6', 'no column or entry is called `memroy`; did you mean `memory`?'],
    ['memory >', expect.stringMatching(/./)],
  ])('where %j', (condition, wanted) => expect(tapes(filteredBy(ROWS, ['memory', 'wild'], condition))).toEqual(wanted));

  it.each([
    ['', false, ['KELP', 'SALT', 'TIDE9', 'TIDE10', 'WOOL']],
    ['memory', false, ['SALT', 'KELP', 'TIDE10', 'TIDE9', 'WOOL']],
    ['memory', true, ['TIDE10', 'KELP', 'SALT', 'TIDE9', 'WOOL']],
  ])('sorted by %s, falling %s; those without a value last', (name, falling, wanted) =>
    expect(tapes(sortedBy(ROWS, name, falling))).toEqual(wanted),
  );

  it('share one scale', () => expect(commonExtent(ROWS, 'memory')).toEqual([0, 0.9]));
});

it('an address holds all that a roll shows', () =>
  fc.assert(
    fc.property(
      fc.record({
        page: fc.constant('roll' as const),
        bars: fc.constantFrom('1 day', '1 hour'),
        entries: fc.array(fc.constantFrom('a = close', 'b = mean(close, 5 bars)'), { minLength: 1, maxLength: 4 }),
        tapes: fc.array(fc.constantFrom('KELP', 'SALT'), { maxLength: 3 }),
        back: fc.integer({ min: 1, max: 99 }),
        filter: fc.constantFrom('', 'a > 1 and b < 2'),
        sort: fc.constantFrom('', 'a'),
        falling: fc.boolean(),
        charts: fc.constantFrom('', 'b'),
      }),
      (rolled) => {
        const { searchParams } = new URL(addressOf(rolled, 3), 'http://x');
        expect(rolledOf(searchParams, { bars: '5 minutes', entries: [] })).toEqual(rolled);
      },
    ),
  ));
