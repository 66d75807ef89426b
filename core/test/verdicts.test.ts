import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { examine, type ChangesChoice, MOST_EXAMINED_ROWS } from '../src/examine/examination.js';
import { shuffled } from '../src/examine/shuffled.js';
import { parseTreatment, treated, treatmentText } from '../src/examine/treatments.js';
import { QUESTIONS, type Question } from '../src/examine/verdicts.js';
import { normalBelow, normalBeyond, normalQuantile } from '../src/numeric/tails.js';
import { evaluate } from '../src/formula/evaluate.js';

/* Columns that were made to be so get the verdicts that they were made for. */

const ROWS = 1500;

/** Normal noise from a seed: quantiles in an order that the seed tells. */
const noise = (seed: number, rows = ROWS) =>
  shuffled(
    Float64Array.from({ length: rows }, (_, at) => normalQuantile((at + 0.5) / rows)),
    seed,
  );
const summed = (steps: Float64Array) => {
  let sum = 100;
  return steps.map((step) => (sum += step));
};
const recursive = (steps: Float64Array, keeps: number) => {
  let last = 0;
  return steps.map((step) => (last = keeps * last + step));
};

const verdictsOf = (x: Float64Array, isOfChanges = false, changes: ChangesChoice = 'auto') => {
  const { verdicts } = examine(x, { treatments: [], lags: 20, isOfChanges, changes, shuffles: 60 });
  expect(verdicts.map(({ question }) => question)).toEqual([...QUESTIONS]);
  return new Map(verdicts.map((verdict) => [verdict.question, verdict]));
};

describe('verdicts', () => {
  it.each<[string, Float64Array, Partial<Record<Question, string>>]>([
    ['a walk', summed(noise(3)), { stationary: 'no', differences: 'yes', walk: 'yes', memory: 'no' }],
    ['noise', noise(5), { stationary: 'yes', differences: 'no', past: 'no', normal: 'yes', cycle: 'no' }],
    ['what comes back to its mean', recursive(noise(7), 0.5), { stationary: 'yes', past: 'yes', walk: 'no' }],
    ['a walk whose steps go on', summed(recursive(noise(9), 0.4)), { stationary: 'no', walk: 'no', memory: 'yes' }],
    [
      'a cycle in noise',
      noise(11).map((x, t) => x / 2 + Math.sin((2 * Math.PI * t) / 25)),
      { stationary: 'yes', cycle: 'yes', past: 'yes' },
    ],
    [
      'calm and wild spells',
      noise(13).map((x, t) => x * (Math.floor(t / 100) % 2 === 0 ? 0.3 : 2)),
      { stationary: 'yes', normal: 'no' },
    ],
  ])('on %s', (_, x, wanted) => {
    const found = verdictsOf(x);
    for (const [question, answer] of Object.entries(wanted))
      expect([question, found.get(question as Question)!.answer, found.get(question as Question)!.figures]).toEqual([
        question,
        answer,
        expect.any(String),
      ]);
  });

  it('on returns ask of their variance as they stand', () => {
    const wild = noise(17).map((x, t) => x * (Math.floor(t / 100) % 2 === 0 ? 0.3 : 2));
    expect(verdictsOf(wild, true).get('clusters')).toMatchObject({
      answer: 'yes',
      figures: expect.stringContaining('of its values'),
    });
    expect(verdictsOf(noise(19), true).get('clusters')).toMatchObject({ answer: 'no' });
    expect(verdictsOf(summed(noise(17)), false, 'raw').get('clusters')!.figures).toContain('of its changes');
  });

  it('on a series that grows ask of its log returns, unless the differences are wanted', () => {
    let log = 0;
    const growing = noise(25).map((step) => Math.exp((log += 0.004 + 0.01 * step)));
    expect(verdictsOf(growing).get('clusters')).toMatchObject({
      answer: 'no',
      figures: expect.stringContaining('of its log returns'),
    });
    // steps grow with the level, which is no clustering
    expect(verdictsOf(growing, false, 'raw').get('clusters')!.answer).toBe('yes');
    const flat = noise(27).map((step) => 100 + step);
    expect(verdictsOf(flat).get('clusters')!.figures).toContain('of its changes');
    expect(
      examine(
        flat.map((x) => x - 100),
        { treatments: [], lags: 9, shuffles: 0 },
      ).changes,
    ).toEqual({
      ...{ kind: 'raw', canBeLogs: false },
    });
  });

  it('name the cycle by its rows, and say of a drift that it cannot be told from one', () => {
    const cycle = verdictsOf(Float64Array.from({ length: 1000 }, (_, t) => Math.sin((2 * Math.PI * t) / 25)));
    expect(cycle.get('cycle')!.says).toBe('Yes: 25 rows.');
    expect(verdictsOf(summed(noise(21))).get('cycle')).toMatchObject({
      answer: 'open',
      says: expect.stringContaining('as long as a drift'),
    });
  });

  it('are the same each time, and nothing is answered of what is not there', () => {
    const x = summed(noise(23, 300));
    expect([...verdictsOf(x)]).toEqual([...verdictsOf(x)]);
    const nothing = [
      new Float64Array(0),
      Float64Array.of(1),
      new Float64Array(50).fill(7),
      new Float64Array(9).fill(NaN),
    ];
    for (const few of nothing)
      for (const { answer, says } of verdictsOf(few).values())
        if (answer !== 'open') throw new Error(`of ${few.length} values: ${says}`);
  });

  it('never fail, whatever the values', () =>
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.double({ noNaN: false }), fc.constant(NaN), fc.constant(3), fc.integer()), {
          maxLength: 90,
        }),
        fc.integer({ min: 1, max: 400 }),
        fc.option(fc.integer({ min: 2, max: 60 }), { nil: undefined }),
        (values, lags, season) => {
          const x = Float64Array.from(values, (value) => (Number.isFinite(value) ? value : NaN));
          const found = examine(x, {
            ...{ treatments: [], lags, season, shuffles: 3 },
            groups: x.map((_, row) => row % 7),
          });
          expect(found.values.length).toBe(x.length);
          expect(found.verdicts.length).toBe(QUESTIONS.length);
          expect(found.summary.count + found.summary.missing).toBe(x.length);
        },
      ),
      { numRuns: 150 },
    ));
});

it('an examination is stopped at any of its parts', () => {
  const x = Float64Array.from({ length: 300 }, (_, t) => Math.sin(t) * (t % 17));
  const choices = { treatments: [], lags: 20, season: 12, shuffles: 5 };
  let parts = 0;
  examine(x, { ...choices, goOn: () => parts++ });
  expect(parts).toBeGreaterThan(12);
  for (let stopAt = 1; stopAt <= parts; stopAt++) {
    let reached = 0;
    const goOn = () => {
      if (++reached === stopAt) throw new Error('stop');
    };
    expect(() => examine(x, { ...choices, goOn })).toThrow('stop');
    expect(reached).toBe(stopAt);
  }
});

it('more rows than memory has room for are refused', () => {
  const x = new Float64Array(MOST_EXAMINED_ROWS + 1);
  expect(() => examine(x, { treatments: [], lags: 1 })).toThrow('rows must be at most 2,000,000, got 2,000,001');
});

describe('treatments', () => {
  const x = Float64Array.of(1, 2, 4, 8, NaN, 32);
  it.each([
    ['log', [0, 1, 2, 3, NaN, 5].map((power) => power * Math.LN2)],
    ['change', [NaN, 1, 2, 4, NaN, NaN]],
    ['change 2', [NaN, NaN, 3, 6, NaN, 24]],
    ['relative change', [NaN, 1, 1, 1, NaN, NaN]],
  ])('%s', (text, want) => {
    const got = treated(x, [parseTreatment(text)]);
    want.forEach((value, row) =>
      Number.isNaN(value) ? expect(got[row]).toBeNaN() : expect(got[row]).toBeCloseTo(value, 12),
    );
  });

  it('follow each other', () => {
    const growth = Float64Array.from({ length: 30 }, (_, t) => 5 * 1.1 ** t);
    const changes = treated(growth, ['log', 'change'].map(parseTreatment));
    for (const value of changes.subarray(1)) expect(value).toBeCloseTo(Math.log(1.1), 12);
  });

  it('take a line away, and a season', () => {
    const line = Float64Array.from({ length: 40 }, (_, t) => (t === 7 ? NaN : 3 + 0.5 * t));
    treated(line, [parseTreatment('detrended')]).forEach((value, row) =>
      row === 7 ? expect(value).toBeNaN() : expect(value).toBeCloseTo(0, 12),
    );
    const shape = [3, -1, -2];
    const season = Float64Array.from({ length: 60 }, (_, t) => 10 + t + shape[t % 3]);
    treated(season, [parseTreatment('less season 3')]).forEach((value, row) => expect(value).toBeCloseTo(10 + row, 9));
  });

  it('are told in words', () =>
    expect(
      ['log', 'change', 'change 34', 'detrended', 'less season 12'].map(parseTreatment).map(treatmentText),
    ).toEqual([
      'its logarithm',
      'its change',
      'its change over 34 rows',
      'itself less its straight line',
      'itself less its season of 12 rows',
    ]));

  it.each(['', 'logs', 'log 2', 'change 0', 'change -1', 'less season', 'less season 1', 'detrended 3'])(
    '%j is none',
    (text) => expect(() => parseTreatment(text)).toThrow(/one of `log`, `change`/),
  );
});

it('what treatments make of a column can be an entry, marked as made of later rows', () => {
  const close = Float64Array.from({ length: 90 }, (_, t) => 10 + t / 3 + [3, -1, -2][t % 3] + ((t * t) % 7) / 10);
  const frame = { time: close.map((_, row) => row * 86_400e6), columns: { close } };
  for (const [formula, text] of [
    ['close - season(close, 3)', 'less season 3'],
    ['detrended(close)', 'detrended'],
    ['change(log(close))', 'log, change'],
  ]) {
    const [entry] = evaluate([formula], frame);
    const wanted = treated(close, text.split(', ').map(parseTreatment));
    entry.values.forEach((value, row) =>
      Number.isNaN(wanted[row]) ? expect(value).toBeNaN() : expect(value).toBeCloseTo(wanted[row], 10),
    );
    expect(entry.looksAhead).toBe(!formula.startsWith('change'));
  }
});

describe('the normal distribution', () => {
  it.each([
    [0, 0.5],
    [1.959963984540054, 0.975],
    [-2.575829303548901, 0.005],
    [-6, 9.865876450376946e-10],
  ])('%d is above a share of %d', (z, p) => {
    expect(normalBelow(z) / p).toBeCloseTo(1, 12);
    expect(normalQuantile(p)).toBeCloseTo(z, 9);
    expect(normalBeyond(z)).toBeCloseTo(2 * Math.min(p, 1 - p), 12);
  });
});

it('a shuffled column has the same values, in an order of its seed', () =>
  fc.assert(
    fc.property(fc.array(fc.integer(), { minLength: 1 }), fc.nat(), (values, seed) => {
      const x = Float64Array.from(values);
      const copy = shuffled(x, seed);
      expect(Array.from(copy).sort()).toEqual(Array.from(x).sort());
      expect(shuffled(x, seed)).toEqual(copy);
      expect(Array.from(x)).toEqual(values);
    }),
  ));
