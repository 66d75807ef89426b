import { instantOf, makeCalendar, rfc3339 } from '@jaunty-ledger/core';
import { describe, expect, it } from 'vitest';
import { momentFigures } from './stretchText';
import { readStretch } from './stretchInput';

const calendar = makeCalendar({ zone: 'Pacific/Auckland' });
const numbered = makeCalendar({ zone: 'UTC', undated: true });

describe('a stretch that is typed', () => {
  it.each([
    ['2010', '', '2009-12-31T11:00:00Z', undefined],
    ['', '2010', undefined, '2010-12-31T11:00:00Z'],
    ['Mar 2019', 'Mar 2019', '2019-02-28T11:00:00Z', '2019-03-31T11:00:00Z'],
    ['2020-Q1', '2020-02-29', '2019-12-31T11:00:00Z', '2020-02-29T11:00:00Z'],
    ['2 March 2026', '2026-03-02 10:00', '2026-03-01T11:00:00Z', '2026-03-01T21:01:00Z'],
    ['2026-03-02T10:00:30Z', '2026-03-02T10:00:30Z', '2026-03-02T10:00:30Z', '2026-03-02T10:00:31Z'],
  ])('from %j to %j', (from, to, first, end) =>
    expect(readStretch(from, to, calendar)).toEqual({
      from: first ? instantOf(first) : -Infinity,
      to: end ? instantOf(end) : Infinity,
    }),
  );

  it.each([
    ['2010-13', '', /`2010-13` is no time; write as much of one/],
    ['2011', '2010', /`2010` lies before `2011`/],
  ])('that is none is told: from %j to %j', (from, to, message) =>
    expect(readStretch(from, to, calendar)).toMatch(message),
  );

  it('of periods that are only numbered is of their numbers', () => {
    expect(readStretch('3', '5', numbered)).toEqual({ from: 3 * 86_400e6, to: 6 * 86_400e6 });
    expect(readStretch('2010-01', '', numbered)).toMatch(/no period/);
  });

  it('reads again what it is shown as', () => {
    for (const precision of ['moment', 'day', 'month', 'quarter', 'year'] as const) {
      const at = instantOf('2025-12-31T11:00:00Z');
      const text = momentFigures(at, calendar, precision);
      expect(rfc3339((readStretch(text, '', calendar) as { from: number }).from), text).toBe('2025-12-31T11:00:00Z');
    }
  });
});
