import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { correlationsOf } from '../src/compare/matrix.js';
import { comparePair, type PairChoices } from '../src/compare/pair.js';
import {
  cointegration,
  correlationMatrix,
  divergences,
  evaluate,
  groupAverage,
  joinColumns,
  rebased,
  spread as spreadBetween,
  type SpreadOptions,
} from '../src/index.js';
import { column, expectColumn, readReference, type Listed, type ReferenceCase } from './referenceCases.js';

/* Several columns beside each other, held against the reference files. */

type Members = Record<string, Listed>;
const columnsOf = (members: Members) => Object.values(members).map(column);

/** Runs every request of a file's cases. */
function cases<Input, Request, Expected>(
  file: string,
  test: (
    answer: { input: Input; request: Request; expected: Expected; label: string },
    tolerance: (name: string) => { rel: number; abs: number },
  ) => void,
) {
  const { cases: all, toleranceOf } = readReference<ReferenceCase<Input, Request, Expected>>(file);
  it.each(all.map((one) => [one.name, one] as const))('%s', (name, { input, requests, expected, tolerance }) =>
    requests.forEach((request, at) =>
      test({ input, request, expected: expected[at], label: `${name}, ${JSON.stringify(request)}` }, (field) =>
        toleranceOf(field, tolerance),
      ),
    ),
  );
}

type Figure = number | null;

describe('columns are joined on the start of their bars', () =>
  cases<
    { columns: Record<string, { time: number[]; value: Listed }> },
    { rows?: 'all'; carry?: boolean },
    { time: number[]; columns: Members; carried?: Record<string, number> }
  >('compare_join', ({ input, request, expected, label }, tolerance) => {
    const names = Object.keys(input.columns);
    const given = names.map((name) => ({
      time: Float64Array.from(input.columns[name].time),
      values: column(input.columns[name].value),
    }));
    const { time, columns, carried } = joinColumns(given, request);
    expect([...time], label).toEqual(expected.time);
    names.forEach((name, at) => expectColumn(label, columns[at], expected.columns[name], tolerance('value')));
    if (expected.carried)
      expect(Object.fromEntries(names.map((name, at) => [name, carried[at]]))).toEqual(expected.carried);
  }));

describe('members are rebased, and averaged', () =>
  cases<
    { members: Members },
    { function: 'rebased' | 'equal' | 'held'; row?: number },
    { members?: Members; index?: Listed }
  >('compare_group', ({ input, request, expected, label }, tolerance) => {
    if (request.function !== 'rebased') {
      const index = groupAverage(columnsOf(input.members), request.function);
      return expectColumn(label, index, expected.index!, tolerance('index'));
    }
    for (const [name, values] of Object.entries(input.members))
      expectColumn(
        `${label} ${name}`,
        rebased(column(values), request.row),
        expected.members![name],
        tolerance('index'),
      );
  }));

describe('a spread, and how fast it comes back', () =>
  cases<
    { a: Listed; b: Listed },
    SpreadOptions,
    { ratio: Listed; beta: Figure | Listed; spread: Listed; count: number; slope: Figure; halflife: Figure }
  >('compare_spread', ({ input, request, expected, label }, tolerance) => {
    const found = spreadBetween(column(input.a), column(input.b), request);
    expectColumn(label, found.ratio, expected.ratio, tolerance('ratio'));
    expectColumn(label, found.spread, expected.spread, tolerance('spread'));
    const got = typeof found.beta === 'number' ? [found.beta] : found.beta;
    expectColumn(label, got, Array.isArray(expected.beta) ? expected.beta : [expected.beta], tolerance('beta'));
    const { count, slope, halflife } = found;
    expectColumn(
      label,
      [count, slope, halflife],
      [expected.count, expected.slope, expected.halflife],
      tolerance('slope'),
    );
  }));

describe('stretches in which a pair has parted', () =>
  cases<
    { a: Listed; b: Listed },
    { bars: number; begin?: number; end?: number; beta?: 'all' },
    {
      z: Listed;
      stretches: { start: number; end: Figure; rows: number; side: string; peak: number; after: Figure }[];
    }
  >('compare_stretches', ({ input, request, expected, label }, tolerance) => {
    const { z, stretches } = divergences(column(input.a), column(input.b), request);
    expectColumn(label, z, expected.z, tolerance('z'));
    expect(
      stretches.map(({ start, end, rows: own, side }) => [start, end ?? null, own, side]),
      label,
    ).toEqual(expected.stretches.map(({ start, end, rows: own, side }) => [start, end, own, side]));
    for (const field of ['peak', 'after'] as const)
      expectColumn(
        `${label} ${field}`,
        stretches.map((one) => one[field]),
        expected.stretches.map((one) => one[field]),
        tolerance(field),
      );
  }));

describe('correlations of all pairs, and an order by likeness', () =>
  cases<
    { members: Members },
    { rows?: number },
    { correlations: Listed[]; order: number[]; joins: { left: number[]; right: number[]; distance: number }[] }
  >('compare_matrix', ({ input, request, expected, label }, tolerance) => {
    const { correlations, order, joins } = correlationMatrix(columnsOf(input.members), request);
    expectColumn(label, correlations.flat(), expected.correlations.flat(), tolerance('correlations'));
    expect(order, label).toEqual(expected.order);
    expect(joins.map(({ left, right }) => [left, right])).toEqual(
      expected.joins.map(({ left, right }) => [left, right]),
    );
    expectColumn(
      label,
      joins.map(({ distance }) => distance),
      expected.joins.map(({ distance }) => distance),
      tolerance('distance'),
    );
  }));

describe('whether two belong together', () =>
  cases<
    { a: Listed; b: Listed },
    { lags?: number },
    Record<'count' | 'missing' | 'beta' | 'constant' | 'tau' | 'p', Figure> & {
      coefficient?: number;
      error?: number;
      lags?: number;
      rows?: number;
      critical?: { one: number; five: number; ten: number };
    }
  >('compare_cointegration', ({ input, request, expected, label }, tolerance) => {
    const found = cointegration(column(input.a), column(input.b), request.lags);
    for (const field of [
      'count',
      'missing',
      'beta',
      'constant',
      'tau',
      'p',
      'coefficient',
      'error',
      'lags',
      'rows',
    ] as const)
      if (expected[field] !== undefined)
        expectColumn(`${label} ${field}`, [found[field]], [expected[field]], tolerance(field));
    for (const level of ['one', 'five', 'ten'] as const)
      if (expected.critical)
        expectColumn(label, [found.critical[level]], [expected.critical[level]], tolerance('critical'));
  }));

/** Two walks that go together by as much as is said. */
const walks = fc
  .record({
    seed: fc.integer({ min: 1, max: 1e6 }),
    rows: fc.integer({ min: 30, max: 120 }),
    common: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  .map(({ seed, rows, common }) => {
    let state = seed;
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647 - 0.5;
    const [a, b] = [new Float64Array(rows), new Float64Array(rows)];
    let [x, y] = [100, 80];
    for (let row = 0; row < rows; row++) {
      const shared = random();
      a[row] = x *= 1 + 0.05 * (common * shared + (1 - common) * random());
      b[row] = y *= 1 + 0.05 * (common * shared + (1 - common) * random());
    }
    return [a, b] as const;
  });
const choices: PairChoices = {
  ...{ of: 'returns', window: 8, by: 'spread', beta: 1, partedBy: 'correlation', rows: 8, begin: 0, end: 0.5 },
  lags: 5,
};

describe('a pair', () => {
  it.each(['correlation', 'deviations'] as const)('has parted by %s with nothing later seen', (partedBy) =>
    fc.assert(
      fc.property(walks, fc.integer({ min: 20, max: 119 }), ([a, b], wanted) => {
        const cut = Math.min(wanted, a.length - 1);
        const all = { ...choices, partedBy, ...(partedBy === 'deviations' && { begin: 1.5 }) };
        const whole = comparePair(a, b, all);
        const part = comparePair(a.subarray(0, cut), b.subarray(0, cut), all);
        expect(part.correlation.values).toEqual(whole.correlation.values.subarray(0, cut));
        expect(part.z).toEqual(whole.z.subarray(0, cut));
        const begun = whole.stretches.filter(({ start }) => start < cut);
        expect(part.stretches.map(({ start }) => start)).toEqual(begun.map(({ start }) => start));
        part.stretches.forEach(({ end }, at) => {
          if (end !== undefined) expect(end).toBe(begun[at].end);
          else expect(begun[at].end ?? cut).toBeGreaterThanOrEqual(cut);
        });
      }),
    ),
  );

  it('says after how many rows its spread was back at the mean before', () =>
    fc.assert(
      fc.property(walks, ([a, b]) => {
        const { spread, stretches } = comparePair(a, b, { ...choices, partedBy: 'deviations', begin: 1.5, end: 0.5 });
        for (const { start, side, backAfter } of stretches) {
          const before = spread.values.subarray(start - choices.rows, start);
          const level = before.reduce((sum, value) => sum + value, 0) / choices.rows;
          const isBack = (value: number) => (side === 'below' ? value >= level : value <= level);
          const rows = spread.values.subarray(start).findIndex(isBack);
          expect(backAfter).toBe(start < choices.rows || rows < 0 ? undefined : rows);
        }
      }),
    ));

  it('turned round leads the other way, and parts at the same rows', () =>
    fc.assert(
      fc.property(walks, ([a, b]) => {
        const [one, other] = [comparePair(a, b, choices), comparePair(b, a, choices)];
        expect(other.stretches.map(({ start, end }) => [start, end])).toEqual(
          one.stretches.map(({ start, end }) => [start, end]),
        );
        [...one.leads.values].forEach((value, k) => expect(other.leads.values[10 - k]).toBeCloseTo(value, 12));
      }),
    ));

  it('that has never gone together has not parted', () => {
    const up = Float64Array.from({ length: 60 }, (_, row) => 100 + (row % 2) + row / 10);
    const down = up.map((value) => 10_000 / value);
    expect(comparePair(up, down, choices).stretches).toEqual([]);
  });
});

it('correlations over gaps are those of the rows that both have', () =>
  fc.assert(
    fc.property(walks, fc.array(fc.nat(119), { maxLength: 20 }), ([a, b], gaps) => {
      const holed = a.map((value, row) => (gaps.includes(row) ? NaN : value));
      const there = (column: Float64Array) => column.filter((_, row) => !gaps.includes(row));
      const [direct, whole] = [correlationsOf([holed, b]), correlationsOf([there(a), there(b)])];
      expect(direct.values[1]).toBeCloseTo(whole.values[1], 9);
    }),
  ));

it('an average of equal members is each of them, rebased; as a function it is the same', () =>
  fc.assert(
    fc.property(walks, ([a, b]) => {
      const index = groupAverage([a, a, a], 'equal');
      rebased(a).forEach((value, row) => expect(index[row]).toBeCloseTo(value, 9));
      const frame = { time: a.map((_, row) => row), columns: { a, b } };
      const [average, held] = evaluate(['g = group(a, b, a)'], frame);
      expect(average.values).toEqual(groupAverage([a, b, a], 'equal'));
      expect(held.values).toEqual(groupAverage([a, b, a], 'held'));
    }),
  ));

it('columns are joined on what they have, whatever their order', () =>
  fc.assert(
    fc.property(
      fc.array(fc.dictionary(fc.nat(30).map(String), fc.option(fc.integer({ min: 1, max: 9 }), { nil: NaN })), {
        minLength: 1,
        maxLength: 4,
      }),
      fc.constantFrom('common' as const, 'all' as const),
      (given, rows) => {
        const columns = given.map((one) => {
          const time = Object.keys(one)
            .map(Number)
            .sort((a, b) => a - b);
          return { time: Float64Array.from(time), values: Float64Array.from(time, (at) => one[at]) };
        });
        const has = (one: (typeof given)[number], at: number) => one[at] !== undefined && !Number.isNaN(one[at]);
        const all = Array.from({ length: 31 }, (_, at) => at);
        const wanted = all.filter((at) =>
          rows === 'all' ? given.some((one) => one[at] !== undefined) : given.every((one) => has(one, at)),
        );
        const joined = joinColumns(columns, { rows });
        expect([...joined.time]).toEqual(wanted);
        joined.columns.forEach((column, at) =>
          expect([...column]).toEqual(wanted.map((time) => (has(given[at], time) ? given[at][time] : NaN))),
        );
      },
    ),
  ));
