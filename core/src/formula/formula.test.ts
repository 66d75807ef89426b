import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { completionsAt } from './complete.js';
import { evaluate } from './evaluate.js';
import { planEntries } from './plan.js';
import { namesOf, type Frame } from './frame.js';
import { numbersIn } from './numbers.js';

const columns = { columns: ['open', 'high', 'low', 'close', 'volume'] };
const frame = {
  time: Float64Array.of(0, 60e6, 120e6, 180e6),
  columns: { close: Float64Array.of(10, 12, 11, 14), volume: Float64Array.of(1, 2, NaN, 4) },
};
const values = (...entries: string[]) => evaluate(entries, frame).map((column) => Array.from(column.values));

describe('arithmetic', () => {
  it.each([
    ['close - 1', [9, 11, 10, 13]],
    ['2 + 3 * close', [32, 38, 35, 44]],
    ['(2 + 3) * 2 - -1', [11, 11, 11, 11]],
    ['close > 11', [0, 1, 0, 1]],
    ['not (close > 11) and volume < 2', [1, 0, NaN, 0]],
    ['volume == 2 or volume == 4', [0, 1, NaN, 1]],
    ['close / volume', [10, 6, NaN, 3.5]],
  ])('%s', (formula, want) => expect(values(formula)).toEqual([want]));

  it('goes by the usual order, which brackets change', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 99 }),
        fc.integer({ min: 0, max: 99 }),
        fc.integer({ min: 1, max: 99 }),
        (a, b, c) => {
          expect(values(`${a} - ${b} * ${c}`)[0][0]).toBe(a - b * c);
          expect(values(`(${a} - ${b}) / ${c}`)[0][0]).toBe((a - b) / c);
        },
      ),
    ));
});

describe('entries', () => {
  it('use each other in any order', () =>
    expect(values('twice = 2 * once', 'once = close - lag(close)')).toEqual([
      [NaN, 4, -2, 6],
      [NaN, 2, -1, 3],
    ]));

  it('fan out over a list, a column a setting', () => {
    const fan = evaluate(['fan = mean(close, [1, 2] bars)'], frame);
    expect(fan.map(({ name, firstValid }) => [name, firstValid])).toEqual([
      ['fan[1]', 0],
      ['fan[2]', 1],
    ]);
    expect(Array.from(fan[1].values)).toEqual([NaN, 11, 11.5, 12.5]);
  });

  it('tell that they look ahead, through everything that uses them', () => {
    const marks = evaluate(['a = mean(close, 3 bars, placed: centre)', 'b = a + 1', 'c = mean(close, 3 bars)'], frame);
    expect(marks.map(({ looksAhead }) => looksAhead)).toEqual([true, true, false]);
  });

  it('are said in words', () =>
    expect(
      planEntries(['mean(close, 20 bars, skip: 1)', 'lag(volume, 1 day)'], columns).map(({ phrase }) => phrase),
    ).toEqual(['mean of close over 20 bars, the current row left out', 'lag of volume by 1 day']));

  it('have a key that changes with what they use', () => {
    const keyOf = (length: number) => planEntries([`a = mean(close, ${length} bars)`, 'b = 2 * a'], columns)[1].key;
    expect(keyOf(5)).toBe(keyOf(5));
    expect(keyOf(5)).not.toBe(keyOf(6));
    expect(new Set(planEntries(['close == 3', 'open == 3'], columns).map(({ key }) => key)).size).toBe(2);
  });
});

describe('a wrong formula names the place and what would be right', () => {
  it.each([
    ['', 0, /a formula is needed/],
    ['mean(close)', 10, /`mean` needs a window, such as `20 bars`/],
    ['mean(close, 20)', 12, /write `20 bars` or `20 minutes`/],
    ['mean(close, 20 bar', 18, /a closing `\)` is missing/],
    ['mean(close, 2.5 bars)', 12, /whole numbers from 1, got 2.5/],
    ['mean(close, 0 bars)', 12, /from 1, got 0/],
    ['mean(close, 20 parsecs)', 15, /`parsecs` is no unit of length/],
    ['mean(close, this fortnight)', 17, /session, day, week, month, year/],
    ['mean(close, 5 bars, from: 9)', 0, /at most the 5 bars/],
    ['mean(close, 5 bars, form: 3)', 20, /no option `form`; it takes from, skip, placed/],
    ['mean(close, 5 bars, 3)', 20, /takes 2 arguments/],
    ['maen(close, 5 bars)', 0, /did you mean `mean`\?/],
    ['average(close, 5 bars)', 0, /did you mean `mean`\?/],
    ['std(close, 5 bars)', 0, /did you mean `stdev`\?/],
    ['corr(close, open, 5 bars)', 0, /did you mean `correlation`\?/],
    ['acf(close, 60 bars)', 0, /did you mean `correlation`\?/],
    ['diff(close)', 0, /did you mean `change`\?/],
    ['shift + 1', 0, /did you mean `lag`\?/],
    ['ema(close, 0.2)', 11, /write `factor: 0.2`/],
    ['lag(close, -1)', 11, /rows ahead are those of `lead`/],
    ['mean(close, 1.5 months)', 12, /whole months/],
    ['lag(close, 2 months)', 13, /months and years are windows/],
    ['mean(clsoe, 5 bars)', 5, /did you mean `close`\?/],
    ['close + mean', 8, /is a function; it needs arguments/],
    ['ema(close)', 0, /needs one of a length/],
    ['ema(close, factor: 2)', 19, /above 0 and at most 1/],
    ['ema(close, 5 bars, start: last)', 26, /first or mean or weighted, got `last`/],
    ['lag(close, 1.5)', 11, /whole numbers/],
    ['lead(close, 1 day)', 0, /looks ahead by rows/],
    ['20 bars', 0, /only inside a function/],
    ['close $', 6, /no meaning/],
    ['close close', 6, /an operator or a comma may be missing/],
    ['a = 3 = 4', 6, /a name is given once/],
    ['close = 3', 0, /is a column of the bars/],
    ['(close', 6, /a closing `\)` is missing/],
    ['mean(close, [a] bars)', 13, /a list holds numbers/],
    ['a + 1', 0, /no column or entry is called `a`/],
    [`${'('.repeat(60)}1${')'.repeat(60)}`, 50, /at most 50 levels/],
    ['1'.repeat(2001), 2000, /at most 2000 characters/],
  ])('%s', (formula, position, message) => {
    const refusal = expect.objectContaining({
      name: 'FormulaError',
      position,
      message: expect.stringMatching(message),
    });
    expect(() => planEntries([formula], columns)).toThrow(refusal);
  });

  it('and the entry it stands in', () => {
    const refusal = expect.objectContaining({ entryIndex: 1, entry: 'b = x', position: 4 });
    expect(() => planEntries(['a = b', 'b = x'], columns)).toThrow(refusal);
  });

  it('names the entries of a circle, and a name that is given twice', () => {
    expect(() => planEntries(['a = b + 1', 'b = 2 * a'], columns)).toThrow('entries go in a circle: b uses a uses b');
    expect(() => planEntries(['price'], columns)).toThrow('called `price`');
    expect(() => planEntries(['a = 1', 'a = 2'], columns)).toThrow('`a` is the name of an entry above');
  });

  it('never throws anything else, whatever is typed', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.constantFrom(
            'mean',
            '(',
            ')',
            'close',
            ',',
            '20',
            'bars',
            '[',
            ']',
            '-',
            '=',
            '.',
            'this',
            'not',
            ':',
            'ema',
            '>',
          ),
        ),
        (words) => {
          try {
            planEntries([words.join(' ')], columns);
          } catch (error) {
            expect((error as Error).name).toBe('FormulaError');
          }
        },
      ),
      { numRuns: 500 },
    ));
});

it('finds the numbers of a formula and what they count', () =>
  expect(
    numbersIn('fan = ema(close, [10, 50] bars, factor: 0.2)').map(({ value, of, start }) => [value, of, start]),
  ).toEqual([
    [10, '', 18],
    [50, '', 22],
    [0.2, 'factor', 40],
  ]));

describe('a long evaluation', () => {
  const rows = 10_000;
  const long: Frame = {
    time: Float64Array.from({ length: rows }, (_, row) => row * 60e6),
    columns: Object.fromEntries(
      ['close', 'open'].map((name, k) => [
        name,
        Float64Array.from({ length: rows }, (_, row) => 9 + Math.sin(row * row + k)),
      ]),
    ),
  };

  it.each([
    'median(close, 500 bars)',
    'median(close, 500 bars, from: 3)',
    'rank(close, 50 bars)',
    'correlation(close, open, 1 hour)',
    'skewness(close, this day)',
    'window(max(x) - min(x), x: close, 20 bars)',
    'mean(close, 10 bars, each: day)',
    'hurst(close, 256 bars, by: variance)',
  ])('tells how far it is, and can be stopped: %s', (formula) => {
    const shares: number[] = [];
    evaluate([formula], long, { progress: (share) => shares.push(share) });
    expect(shares.length).toBeGreaterThan(2);
    expect(shares).toEqual([...shares].sort((a, b) => a - b));
    expect([shares[0] >= 0, shares.at(-1)! <= 1]).toEqual([true, true]);
    const stop = new Error('stop');
    const stopped = () =>
      evaluate([formula], long, {
        progress: (share) => {
          if (share > 0.3) throw stop;
        },
      });
    expect(stopped).toThrow(stop);
  });
});

describe('a power', () => {
  const valueOf = (formula: string) =>
    evaluate([`x = ${formula}`], { time: Float64Array.of(0), columns: { close: Float64Array.of(3) } })[0].values[0];
  it.each([
    ['2 ^ 3 ^ 2', 512],
    ['-2 ^ 2', -4],
    ['2 ^ -1', 0.5],
    ['2 * close ^ 2', 18],
    ['(2 * close) ^ 2', 36],
    ['(-8) ^ 0.5', NaN],
    ['10 ^ 400', NaN],
  ])('%s is %d', (formula, value) => expect(valueOf(formula)).toBe(value));
});

it('a tape may be named by its own formulas', () => {
  const frame = { time: Float64Array.of(0), columns: { close: Float64Array.of(3) }, tape: 'KELP' };
  expect(evaluate(['x = KELP.close * 2'], frame)[0].values[0]).toBe(6);
  expect(() => evaluate(['x = SALT.close'], frame)).toThrow(
    'no entry and no tape is called `SALT`; the tapes are KELP',
  );
});

describe('a text column', () => {
  const berths = {
    ...frame,
    texts: { berth: Float64Array.of(0, 1, NaN, 1) },
    words: new Map([['berth', ['east quay', 'Mole']]]),
  };
  const columnOf = (formula: string) => Array.from(evaluate([formula], berths)[0].values);
  it.each([
    ['berth == "Mole"', [0, 1, NaN, 1]],
    ["'Mole' != berth", [1, 0, NaN, 0]],
    ['where(berth == "Mole", close)', [NaN, 12, NaN, 14]],
    ['mean(where(berth == "Mole", close), 4 bars, from: 1)', [NaN, 12, 12, 13]],
  ])('is compared: %s', (formula, want) => expect(columnOf(formula)).toEqual(want));

  it.each([
    ['berth == "mole"', 9, /never says `mole`; did you mean `Mole`\?/],
    ['berth == "x"', 9, /it says east quay, Mole/],
    ['berth < "Mole"', 0, /with `==` and `!=`/],
    ['where(berth = "Mole", close)', 12, /to compare, write `==`/],
    ['"Mole"', 0, /as in `berth == "east quay"`/],
    ['berth + 1', 0, /tells groups.*or is compared, as in `berth == "east quay"`/],
  ])('%s is refused', (formula, position, message) =>
    expect(() => evaluate([formula], berths)).toThrow(
      expect.objectContaining({ position, message: expect.stringMatching(message) }),
    ),
  );

  it('has its words completed', () => {
    const offered = (text: string) =>
      completionsAt(text, text.length, new Map(), berths.words).items.map((item) => item.text);
    expect(offered('where(berth == "m')).toEqual(['Mole"']);
    expect(offered('where(ber')).toContain('berth == ""');
  });
});

it('what is meant by a common word is completed', () => {
  const offered = (text: string) => completionsAt(text, text.length, new Map()).items.map((item) => item.text);
  expect(offered('aver')).toContain('mean()');
  expect(offered('x = rolli')).toContain('mean()');
  expect(offered('mean(close, 12')).toContain('12 months');
});

describe('further names of columns', () => {
  const close = Float64Array.of(3, 1, 2);
  const frame: Frame = {
    time: Float64Array.of(1, 2, 3),
    columns: { close, value: new Float64Array(3).fill(NaN) },
    aliases: new Map([
      ['rainfall_mm', 'close'],
      ['value', 'close'],
    ]),
    others: {
      WET: { time: Float64Array.of(1, 2, 3), columns: { close }, aliases: new Map([['rainfall_mm', 'close']]) },
    },
  };
  const valuesOf = (...entries: string[]) => [...evaluate(entries, frame).at(-1)!.values];

  it.each(['rainfall_mm', 'value', 'close', 'WET.rainfall_mm'])('%s are the values', (name) => {
    expect(valuesOf(`a = ${name}`)).toEqual([3, 1, 2]);
    expect(planEntries([`a = ${name}`], namesOf(frame))[0].unit).toBe('price');
  });

  it('give way to an entry of the same name', () =>
    expect(valuesOf('rainfall_mm = close * 2', 'a = rainfall_mm')).toEqual([6, 2, 4]));
});
