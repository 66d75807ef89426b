import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TAKES, type BarRule } from './barKind.js';
import { BarRuleError, parseBarRule, printBarRule } from './barRule.js';

const timed = fc.oneof(
  fc.integer({ min: 1, max: 86_399 }).map((seconds) => ({ by: 'interval' as const, micros: seconds * 1e6 })),
  fc.constantFrom('day', 'week', 'month', 'quarter', 'year').map((unit) => ({ by: 'period' as const, unit }) as const),
);
const limit = fc.integer({ min: 1, max: 1e9 }).map((whole) => whole / 100);
const running = fc.oneof(
  fc.integer({ min: 1, max: 1e6 }).map((count) => ({ by: 'trades' as const, limit: count })),
  fc
    .tuple(fc.constantFrom('units', 'value', 'range'), limit)
    .map(([by, amount]) => ({ by, limit: amount }) as BarRule['kind']),
);
const common = {
  allHours: fc.boolean(),
  side: fc.constantFrom(undefined, 'buy' as const, 'sell' as const),
  price: fc.constantFrom('mid' as const, 'bid' as const, 'ask' as const),
  take: fc.constantFrom(...TAKES),
  takes: fc.dictionary(
    fc.constantFrom('open_interest', 'toString', 'constructor', 'Lots2'),
    fc.constantFrom('first' as const, 'sum' as const, 'mean' as const),
  ),
  adjusted: fc.constantFrom(undefined, 'adjusted_close'),
};
const rules: fc.Arbitrary<BarRule> = fc.oneof(
  fc.record({
    kind: timed,
    empty: fc.constantFrom('skip' as const, 'carry' as const, 'blank' as const),
    restart: fc.constant('never' as const),
    ...common,
  }),
  fc.record({
    kind: running,
    empty: fc.constant('skip' as const),
    restart: fc.constantFrom('never' as const, 'day' as const),
    ...common,
  }),
);

describe('a bar rule', () => {
  it('reads back as itself from its canonical form', () =>
    fc.assert(
      fc.property(rules, (rule) => {
        expect(parseBarRule(printBarRule(rule))).toEqual(rule);
      }),
    ));

  it.each([
    ['5 minutes', '5 minutes'],
    ['60 minutes', '1 hour'],
    ['5min', undefined],
    ['1 Day', '1 day'],
    ['15 minutes ,empty:carry,all hours', '15 minutes, empty: carry, all hours'],
    ['500 trades, restart: day', '500 trades, restart: day'],
    ['1 record', '1 trade'],
    ['4 records', '4 trades'],
    ['range 0.25', 'range 0.25'],
    ['1.5 hours', '90 minutes'],
    ['1 month, take: sum', '1 month, take: sum'],
    ['1 day,take open_interest:mean', '1 day, take open_interest: mean'],
    ['1 day, take lots: last', '1 day'],
    ['1 day, adjusted: adjusted_close', '1 day, adjusted: adjusted_close'],
  ])('%s is %s', (text, canonical) => {
    if (canonical === undefined) return expect(() => parseBarRule(text)).toThrow(BarRuleError);
    expect(printBarRule(parseBarRule(text))).toBe(canonical);
  });

  it.each([
    ['', 0, /a bar rule is needed, such as `5 minutes`/],
    ['5', 1, /`5` needs a unit/],
    ['five minutes', 0, /starts with a number or `range`/],
    ['5 parsecs', 2, /`parsecs` is no unit for bars/],
    ['2 days', 0, /write `1 day`/],
    ['0 minutes', 0, /got `0`/],
    ['24 hours', 0, /write `1 day`/],
    ['0.5 seconds', 0, /whole seconds/],
    ['range', 5, /`range` needs a height/],
    ['2.5 trades', 0, /whole numbers/],
    ['5 minutes, empty: fill', 18, /takes `skip` or `carry` or `blank`, got `fill`/],
    ['5 minutes, restart: day', 11, /leave `restart` out/],
    ['500 trades, empty: carry', 12, /leave `empty` out/],
    ['5 minutes, hours', 11, /stands an option/],
    ['5 minutes, empty: carry, empty: skip', 24, /given twice/],
    ['1 day, take: most', 13, /takes `last` or `first` or `sum` or `mean`, got `most`/],
    ['1 day, take lots', 6, /`take open_interest: first\|sum\|mean`/],
    ['1 day, take lots: sum, take lots: mean', 22, /given twice/],
    ['1 day, adjusted: 5', 6, /the name of the column/],
    ['5 minutes long', 10, /options follow a comma/],
  ])('"%s" is refused at %i', (text, position, message) => {
    const refusal = expect.objectContaining({
      name: 'BarRuleError',
      position,
      message: expect.stringMatching(message),
    });
    expect(() => parseBarRule(text)).toThrow(refusal);
  });
});
