import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { levelsOf, pictureOf, type ShelfLine } from '$lib/api/shelf';
import { arranged, instrumentOf, tagsOf, WHOLE_SHELF } from './shelfOrder';

const line = fc.record({
  name: fc
    .tuple(fc.constantFrom('KELP', 'SALT', 'AMBR', 'Kelp2'), fc.constantFrom('', '_days', '_minutes', '_1m'), fc.nat(9))
    .map(([stem, suffix, number]) => `${stem}${number}${suffix}`),
  kind: fc.constantFrom('ticks' as const, 'bars' as const, 'series' as const),
  interval: fc.constant(null),
  rows: fc.nat(1000),
  from: fc.constantFrom('2025-01-01T00:00:00Z', '2026-01-01T00:00:00Z'),
  to: fc.constant('2026-02-01T00:00:00Z'),
  precision: fc.constant('moment' as const),
  note: fc.constantFrom('', 'dried kelp'),
  calendar: fc.constantFrom(null, 'Tarn Harbour'),
  tags: fc.subarray(['sea', 'oil', 'old']),
  flagged: fc.nat(3),
  leftOut: fc.nat(3),
  sorted: fc.constant(0),
  picture: fc.constant(''),
});
const lines: fc.Arbitrary<ShelfLine[]> = fc.uniqueArray(line, { selector: ({ name }) => name, maxLength: 40 });
const view = fc.record({
  text: fc.constantFrom('', 'kelp', 'salt days', 'harbour sea', 'nothing'),
  kind: fc.constantFrom('', 'bars'),
  tag: fc.constantFrom('', 'sea'),
  sort: fc.constantFrom(
    'name' as const,
    'kind' as const,
    'rows' as const,
    'from' as const,
    'to' as const,
    'state' as const,
  ),
  descending: fc.boolean(),
});

describe('the shelf', () => {
  it('shows each tape that fits once, those of an instrument beside each other', () =>
    fc.assert(
      fc.property(lines, view, (all, wanted) => {
        const placed = arranged(all, wanted);
        const names = placed.map(({ line: { name } }) => name);
        const fits = ({ name, note, tags, calendar, kind }: ShelfLine) =>
          (!wanted.kind || kind === wanted.kind) &&
          (!wanted.tag || tags.includes(wanted.tag)) &&
          wanted.text
            .split(' ')
            .every((word) => [name, note, ...tags, calendar ?? ''].some((part) => part.toLowerCase().includes(word)));
        expect([...names].sort()).toEqual(
          all
            .filter(fits)
            .map(({ name }) => name)
            .sort(),
        );
        const instruments = placed
          .filter(({ isFurther }) => !isFurther)
          .map(({ line: { name } }) => instrumentOf(name));
        expect(new Set(instruments).size).toBe(instruments.length);
        const leaders = placed.filter(({ isFurther }) => !isFurther).map(({ line: { rows } }) => rows);
        const sorted = [...leaders].sort((a, b) => (wanted.descending ? b - a : a - b));
        if (wanted.sort === 'rows') expect(leaders).toEqual(sorted);
      }),
    ));

  it('shows all of it by name at first, numbers in order', () => {
    const [one] = fc.sample(line, 1);
    const named = ['K10', 'K9', 'k9_days', 'A'].map((name) => ({ ...one, name }));
    expect(arranged(named, WHOLE_SHELF).map(({ line: { name } }) => name)).toEqual(['A', 'K9', 'k9_days', 'K10']);
    expect(
      tagsOf([
        { ...one, tags: ['sea', 'oil'] },
        { ...one, tags: ['oil'] },
      ]),
    ).toEqual(['oil', 'sea']);
  });

  it.each([
    ['KELP_minutes', 'kelp'],
    ['KELP_5min', 'kelp'],
    ['days', 'days'],
    ['T_2026_days', 't_2026'],
  ])('%s is of the instrument %s', (name, instrument) => expect(instrumentOf(name)).toBe(instrument));

  it('has pictures of a letter a point', () => {
    expect(levelsOf(pictureOf([1, 2, NaN, 3]))).toEqual([0, 26, 51]);
    expect(levelsOf(pictureOf([5, 5]))).toEqual([0, 0]);
    expect(pictureOf([])).toBe('');
    expect(pictureOf(Array.from({ length: 60 }, (_, at) => at))).toHaveLength(40);
  });
});
