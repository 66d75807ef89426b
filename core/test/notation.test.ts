import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  buildBars,
  catalogue,
  evaluate,
  makeCalendar,
  parseBarRule,
  parseEntry,
  printEntry,
  type Frame,
} from '@jaunty-ledger/core';

/* What formulas can say beside functions of columns: other bars, groups, windows by hand, parts, other tapes. */

const calendar = makeCalendar({
  zone: 'Atlantic/Faroe',
  session: '08:30-16:30',
  weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
});
const MINUTE = 60e6;
const opening = Date.parse('2026-01-05T08:30:00Z') * 1000;

/** Ticks over three sessions, one a minute. */
const time = Float64Array.from(
  { length: 3 * 480 },
  (_, i) => opening + Math.floor(i / 480) * 1440 * MINUTE + (i % 480) * MINUTE,
);
const ticks = {
  time,
  price: time.map((_, i) => 100 + 10 * Math.sin(i / 37) + (i % 11) / 7),
  size: time.map((_, i) => 1 + (i % 5)),
};
const barsOf = (rule: string) => buildBars(ticks, parseBarRule(rule), calendar);
function frameOf(rule: string): Frame {
  const { time: starts, end, open, high, low, close, volume, value, vwap, trades } = barsOf(rule);
  return { time: starts, end, columns: { open, high, low, close, volume, value, vwap, trades }, rule, calendar };
}
const five = frameOf('5 minutes');
const valuesOf = (formula: string, frame = five) => evaluate([formula], frame)[0].values;

describe('`on`: larger bars under smaller ones', () => {
  const hours = frameOf('1 hour');

  it('lays the last larger bar that was over on each smaller one, and never an unfinished one', () => {
    const laid = valuesOf('mean(close, 3 bars) on 1 hour');
    const large = valuesOf('mean(close, 3 bars)', hours);
    laid.forEach((value, t) => {
      const over = hours.end!.filter((end) => end <= five.end![t]).length - 1;
      expect(value, `row ${t}`).toEqual(over < 0 ? NaN : large[over]);
    });
  });

  it('with `forming` takes the one under way, and is marked for that', () => {
    const [forming] = evaluate(['close on 1 hour forming'], five);
    const [settled] = evaluate(['close on 1 hour'], five);
    expect([forming.looksAhead, settled.looksAhead]).toEqual([true, false]);
    forming.values.forEach((value, t) => {
      const within = hours.time.filter((start) => start <= five.time[t]).length - 1;
      expect(value).toBe(hours.columns.close[within]);
    });
  });

  it('does not change where the record ends earlier', () => {
    const part: Frame = {
      ...five,
      time: five.time.slice(0, 150),
      end: five.end!.slice(0, 150),
      columns: Object.fromEntries(Object.entries(five.columns).map(([name, column]) => [name, column.slice(0, 150)])),
    };
    const formula = 'ema(high, 4 bars) on 1 hour';
    expect(valuesOf(formula, part)).toEqual(valuesOf(formula).slice(0, 150));
  });

  it('takes entries over to the larger bars, and refuses finer ones', () => {
    const [, onHours] = evaluate(['smooth = mean(close, 2 bars)', 'a = smooth on 1 hour'], five);
    expect(onHours.values).toEqual(valuesOf('mean(close, 2 bars) on 1 hour'));
    expect(() => valuesOf('close on 1 minute')).toThrow(/does not go with these bars: rule must be no finer/);
    expect(() => valuesOf('close on 90 parsecs')).toThrow(/`parsecs` is no unit for bars/);
    expect(() => valuesOf('close on')).toThrow(/after `on` come bars, such as `on 1 hour`/);
  });
});

describe('`each`: groups by themselves', () => {
  it('restarts with each session, for any function', () => {
    const restarted = valuesOf('ema(close, 3 bars, each: session)');
    const sessions = [0, 1, 2].map((day) => [day * 96, (day + 1) * 96]);
    for (const [from, to] of sessions) {
      const alone: Frame = {
        ...five,
        time: five.time.slice(from, to),
        columns: { close: five.columns.close.slice(from, to) },
      };
      expect(restarted.slice(from, to)).toEqual(valuesOf('ema(close, 3 bars)', alone));
    }
  });

  it('runs by the values of a column, and leaves rows without one out', () => {
    const frame: Frame = {
      time: Float64Array.of(0, 1, 2, 3, 4),
      columns: { x: Float64Array.of(1, 10, 2, 20, 3), side: Float64Array.of(1, -1, 1, -1, NaN) },
    };
    expect(Array.from(valuesOf('cumulative(x, each: side)', frame))).toEqual([1, 10, 3, 30, NaN]);
    expect(() => valuesOf('abs(x, each: side)', frame)).toThrow(/each row by itself/);
  });

  it('runs among the rows of each word of a text column as if they were alone', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(9), fc.nat(2)), { minLength: 1, maxLength: 40 }), (rows) => {
        const frame = {
          time: Float64Array.from(rows, (_, row) => row),
          columns: { x: Float64Array.from(rows, ([x]) => x) },
          texts: { berth: Float64Array.from(rows, ([, berth]) => (berth === 2 ? NaN : berth)) },
        };
        const together = valuesOf('mean(x, 3 bars, each: berth)', frame);
        const alone = [0, 1].map((word) => {
          const x = Float64Array.from(rows.flatMap(([value, berth]) => (berth === word ? [value] : [])));
          return [...valuesOf('mean(x, 3 bars)', { time: x.map((_, row) => row), columns: { x } })];
        });
        rows.forEach(([, berth], row) => expect(together[row]).toBe(berth === 2 ? NaN : alone[berth].shift()));
      }),
      { examples: [[[[7, 2]]]] },
    ));

  it('takes a text column for nothing else, and says so', () => {
    const frame = {
      time: Float64Array.of(1),
      columns: { x: Float64Array.of(1) },
      texts: { berth: Float64Array.of(0) },
    };
    expect(() => valuesOf('x + berth', frame)).toThrow(/`berth` is a text column; it tells groups/);
    expect(() => valuesOf('berth = x', frame)).toThrow(/choose another name/);
    expect(() => valuesOf('mean(x, 2 bars, each: 3)', frame)).toThrow(/session, day, week, berth or a column/);
  });
});

describe('`window`: any formula over each window', () => {
  it('is the same as the aggregates it is made of', () => {
    const byHand = valuesOf('window(max(x) - min(x), x: close, 20 bars)');
    const plain = valuesOf('max(close, 20 bars) - min(close, 20 bars)');
    expect(byHand).toEqual(plain);
  });

  it('can say what no aggregate does: the mean distance from the mean', () => {
    const got = valuesOf('window(mean(abs(x - mean(x))), x: close, 4 bars)');
    const { close } = five.columns;
    for (let t = 3; t < close.length; t++) {
      const rows = [...close.slice(t - 3, t + 1)];
      const mean = rows.reduce((a, b) => a + b) / 4;
      expect(got[t]).toBeCloseTo(rows.reduce((a, b) => a + Math.abs(b - mean), 0) / 4, 12);
    }
  });

  it.each([
    ['window(max(x), 20 bars)', /what its values are called/],
    ['window(x: close, 20 bars)', /needs a formula, a column and a window/],
    ['window(max(close), x: close, 20 bars)', /no column or entry is called `close`/],
    ['window(max(x), x: close, all)', /too long/],
  ])('%s is refused', (formula, message) => {
    const long: Frame = {
      ...five,
      time: Float64Array.from({ length: 40_000 }, (_, i) => i),
      columns: { close: new Float64Array(40_000) },
    };
    expect(() => valuesOf(formula, long)).toThrow(message);
  });
});

describe('parts', () => {
  it('of a named entry and of a call are the same columns', () => {
    const columns = evaluate(
      ['b = bands(close, 20 bars, 2)', 'top = b.upper', 'same = bands(close, 20 bars).upper', 'mid = b.mid'],
      five,
    );
    const by = Object.fromEntries(columns.map(({ name, values }) => [name, values]));
    expect(Object.keys(by)).toEqual(['b', 'b.upper', 'b.lower', 'top', 'same', 'mid']);
    expect(by.top).toEqual(by['b.upper']);
    expect(by.same).toEqual(by['b.upper']);
    expect(by.mid).toEqual(by.b);
  });

  it('that are not there are told, with those that are', () => {
    expect(() => evaluate(['b = bands(close, 20 bars)', 'b.top'], five)).toThrow('its parts are mid, upper, lower');
    expect(() => evaluate(['m = mean(close, 3 bars)', 'm.top'], five)).toThrow('it is one value');
  });
});

describe('columns of another tape', () => {
  const other: Frame = {
    time: five.time.filter((_, row) => row % 2 === 0),
    columns: { close: five.columns.close.filter((_, row) => row % 2 === 0) },
  };

  it('are joined on the time of the bar, and missing where that has none', () => {
    const joined = valuesOf('SALT.close', { ...five, others: { SALT: other } });
    joined.forEach((value, row) => expect(value).toEqual(row % 2 === 0 ? five.columns.close[row] : NaN));
  });

  it('that are not there are told, with those that are', () => {
    const frame = { ...five, others: { SALT: other } };
    expect(() => valuesOf('SALT.high', frame)).toThrow('`SALT` has no column `high`; it has close');
    expect(() => valuesOf('SLAT.close', frame)).toThrow('did you mean `SALT`?');
  });
});

it('the rule of the bars and the calendar tell how a volatility is carried over to a year', () => {
  // 96 bars of five minutes in 8 hours, 5 days a week
  const perBar = valuesOf('volatility(20 bars, per: bar)');
  const perYear = valuesOf('volatility(20 bars)');
  expect(perYear[100] / perBar[100]).toBeCloseTo(Math.sqrt((96 * 5 * 365.2425) / 7), 9);
});

/** Formulas of every shape, as texts. */
const formula = fc.letrec<{ value: string; operand: string }>((tie) => ({
  operand: fc.oneof(
    fc.constantFrom('close', 'b.upper', '20', '0.5', 'SALT.close', '(venue == "North quay")', `('a "b"' != venue)`),
    fc.constantFrom(...[...catalogue.values()].map(({ example }) => example)),
    tie('value').map((inner) => `(${inner})`),
    tie('value').map((inner) => `mean(${inner}, this session, from: 3)`),
    tie('value').map((inner) => `(${inner}) on (15 minutes, all hours) forming`),
    tie('value').map((inner) => `bands(${inner}, [10, 20] bars).lower on 1 day`),
  ),
  value: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    tie('operand'),
    fc
      .tuple(tie('operand'), fc.constantFrom('+', '-', '*', '/', 'and', 'or'), tie('value'))
      .map((part) => part.join(' ')),
    fc.tuple(tie('operand'), fc.constantFrom('<', '>=', '=='), tie('operand')).map((part) => `(${part.join(' ')})`),
    tie('operand').map((inner) => `-${inner}`),
    tie('operand').map((inner) => `(not ${inner})`),
  ),
})).value;

it('a formula printed and read again is the same formula', () =>
  fc.assert(
    fc.property(formula, (text) => {
      const withoutPlaces = (node: unknown) =>
        JSON.stringify(node, (key, value: unknown) =>
          key === 'start' || key === 'end' || key.endsWith('At') ? undefined : value,
        );
      let read;
      try {
        read = parseEntry(`a = ${text}`);
      } catch (error) {
        expect(String(error)).toMatch(/at most/); // too long or too deep
        return;
      }
      const printed = printEntry(read);
      expect(withoutPlaces(parseEntry(printed))).toBe(withoutPlaces(read));
      expect(printEntry(parseEntry(printed))).toBe(printed);
    }),
    { numRuns: 300 },
  ));
