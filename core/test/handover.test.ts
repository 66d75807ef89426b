import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  draftSentences,
  entryFacts,
  evaluate,
  namesOf,
  planEntries,
  runNow,
  shareBelowNow,
  standingNow,
  type DraftLine,
  type Frame,
} from '../src/index.js';

/* A first paragraph for a page that is handed over: every sentence is right for its data. */

const figure = fc.oneof(
  { weight: 8, arbitrary: fc.integer({ min: 90, max: 110 }) },
  { weight: 1, arbitrary: fc.constant(NaN) },
);
const columns = (least: number) =>
  fc
    .integer({ min: least, max: 60 })
    .chain((rows) =>
      fc.tuple(...Array.from({ length: 2 }, () => fc.array(figure, { minLength: rows, maxLength: rows }))),
    )
    .map((both) => both.map((column) => Float64Array.from(column)));

const frameOf = (close: Float64Array): Frame => ({
  time: close.map((_, row) => (row + 1) * 86_400e6),
  columns: { close, volume: close.map(() => 1) },
});
const factsOf = (entries: string[]) =>
  planEntries(entries, namesOf(frameOf(new Float64Array(3)))).flatMap((plan) => entryFacts(plan));

describe('where a price stands against a line', () => {
  it('is as counted from the front', () =>
    fc.assert(
      fc.property(columns(1), ([price, line]) => {
        // from the front: where the last stretch of one side began
        let [since, side] = [-1, 0];
        price.forEach((value, row) => {
          const now = Number.isNaN(value - line[row]) ? NaN : Math.sign(value - line[row]);
          if (now !== side) [since, side] = [row, now];
        });
        const found = standingNow(price, line);
        if (Number.isNaN(side)) return void expect(found).toBeUndefined();
        expect([found!.side, found!.rows]).toEqual([
          ['below', 'at', 'above'][side + 1],
          price.length - (side === 0 && since < 0 ? 0 : since),
        ]);
        expect(found!.since).toBe(price.length - found!.rows);
      }),
    ));

  it('a run is as long as steps of one sign at the end', () =>
    fc.assert(
      fc.property(columns(2), ([values]) => {
        const steps = [...values.subarray(1)].map((value, at) => Math.sign(value - values[at]));
        const last = steps[steps.length - 1];
        const broken = steps.findLastIndex((step) => step !== last);
        expect(runNow(values)).toBe(last > 0 || last < 0 ? last * (steps.length - 1 - broken) : 0);
      }),
    ));

  it('a share of lower values is as counted', () =>
    fc.assert(
      fc.property(columns(1), fc.integer({ min: 1, max: 80 }), ([values], rows) => {
        const before = [...values]
          .slice(0, -1)
          .slice(-rows)
          .filter((value) => !Number.isNaN(value));
        const last = values[values.length - 1];
        const wanted = Number.isNaN(last) ? NaN : before.filter((value) => value < last).length / before.length;
        expect(shareBelowNow(values, rows)).toEqual(wanted);
      }),
    ));
});

describe('facts of entries', () => {
  it.each([
    ['a = mean(close, 20 bars)', 'average'],
    ['a = ema(close, factor: 0.2)', 'average'],
    ['a = mean(volume, 20 bars)', 'other'],
    ['a = stdev(logreturn(close), 20 bars)', 'volatility'],
    ['a = stdev(close, 20 bars)', 'other'],
    ['a = hurst(close, 200 bars)', 'memory'],
    ['a = projection(close, "drift", 3)', 'projection'],
    ['a = close + 1', 'other'],
  ])('%s is %s', (entry, role) => expect(factsOf([entry])[0].role).toBe(role));

  it('ends of a band are its upper and its lower', () => {
    const roles = new Map(factsOf(['b = bands(close, 20 bars, 2)']).map(({ name, role }) => [name, role]));
    expect([roles.get('b.upper'), roles.get('b.lower')]).toEqual(['upper', 'lower']);
  });

  // on a straight line an average stands where the line was so many rows before
  it.each([
    'mean(close, 9 bars)',
    'mean(close, 4 bars, skip: 1)',
    'wma(close, 7 bars)',
    'median(close, 5 bars)',
    'ema(close, factor: 0.5)',
  ])('the lag of %s is what it is late by on a straight line', (formula) => {
    const close = Float64Array.from({ length: 400 }, (_, row) => 100 + row);
    const [{ values }] = evaluate([`a = ${formula}`], frameOf(close));
    expect(close[399] - values[399]).toBeCloseTo(factsOf([`a = ${formula}`])[0].lag, 6);
  });
});

describe('a draft', () => {
  const ENTRIES = [
    'smooth = mean(close, 5 bars)',
    'hem = bands(close, 5 bars, 1)',
    'wild = stdev(logreturn(close), 4 bars)',
    'p = projection(close, "last", 2)',
  ];
  const drafted = (close: Float64Array) => {
    const frame = frameOf(close);
    const found = new Map(evaluate(ENTRIES, frame).map((column) => [column.name, column.values]));
    const lines = factsOf(ENTRIES).map((facts): DraftLine => ({ ...facts, values: found.get(facts.name)! }));
    const sentences = draftSentences({
      ...{ name: 'KELP', price: close, column: 'close', lines, back: 5, yearRows: 20, row: 'day', trust: '' },
      timeText: (row) => `day ${row}`,
    });
    return { sentences, text: sentences.join(' '), found };
  };

  it('says of any prices what they are, checked another way', () =>
    fc.assert(
      fc.property(columns(8), ([close]) => {
        const { text, sentences, found } = drafted(close);
        const last = close.length - 1;
        if (Number.isNaN(close[last]))
          return void expect(sentences).toEqual(['KELP has no value in the last day shown.']);
        expect(text.startsWith(`KELP stood at {last close} on day ${last}`)).toBe(true);
        expect(text.includes('{change 5 bars}')).toBe(close[last - 5] > 0);
        const mean = [...close.slice(-5)].reduce((a, b) => a + b, 0) / 5;
        const [, side, days] =
          /It has stood (above|below|exactly at) smooth.*?for (?:all of the )?(\d+) days?/.exec(text) ?? [];
        if (Number.isNaN(mean)) return void expect(side).toBeUndefined();
        const isAt = Math.abs(close[last] - mean) < 1e-9;
        if (!isAt) expect(side).toBe(close[last] > mean ? 'above' : 'below');
        expect(Number(days)).toBeGreaterThan(0);
        // it did not stand there on the day before those
        const before = last - Number(days);
        const gap = (row: number) => Math.sign(close[row] - found.get('smooth')![row]);
        if (before >= 0 && !isAt) expect(gap(before)).not.toBe(gap(last));
        const [, where] = /lies (above|within|below) its band/.exec(text) ?? [];
        const deviation = Math.sqrt([...close.slice(-5)].reduce((sum, x) => sum + (x - mean) ** 2, 0) / 5);
        const off = (close[last] - mean) / deviation;
        if (deviation > 0 && Math.abs(Math.abs(off) - 1) > 1e-6)
          expect(where).toBe(off > 1 ? 'above' : off < -1 ? 'below' : 'within');
        const [, percent] = /higher than on (\d+) of 100/.exec(text) ?? [];
        if (percent) {
          const wild = [...found.get('wild')!];
          const others = wild
            .slice(0, -1)
            .slice(-20)
            .filter((x) => !Number.isNaN(x));
          const lower = others.filter((x) => x < wild[last]).length;
          expect(Number(percent)).toBe(Math.round((100 * lower) / others.length));
        }
      }),
      { numRuns: 400 },
    ));

  it('is plain: whole sentences, no advice, no figure that is not linked to its formula', () => {
    const close = Float64Array.from({ length: 80 }, (_, row) => 100 + row + 3 * Math.sin(row));
    const { sentences, text } = drafted(close);
    for (const sentence of sentences) expect(sentence).toMatch(/^[A-Z].*\.$/);
    expect(text).not.toMatch(/\b(should|buy|sell|recommend|will)\b/i);
    expect(text).toContain('A smoothed line is late (smooth by about 2 days) and is no forecast.');
    expect(text).toContain('{last smooth}');
    expect(text).toContain('{last hem.lower} to {last hem.upper}');
    expect(text).not.toMatch(/\d+\.\d{2}/);
  });
});
