import { describe, expect, it } from 'vitest';
import { makeCalendar } from '../time/calendar.js';
import { buildBars } from './buildBars.js';
import { parseBarRule } from './barRule.js';

/* Zones that have moved over the date line have no instants on one date. */

describe.each([
  ['Pacific/Apia', '2011-12-27', '2011-12-30'],
  ['Pacific/Kwajalein', '1993-08-18', '1993-08-21'],
])('in %s', (zone, first, skipped) => {
  const from = Date.parse(`${first}T00:30:00Z`) * 1000;
  const hours = 24 * 10;
  const time = Float64Array.from({ length: hours }, (_, hour) => from + hour * 3600e6);
  const ticks = { time, price: time.map((_, row) => 100 + (row % 7)) };

  it.each(
    ['4 hours', '1 hour', '1 day', '90 minutes', '1 week'].flatMap((rule) => [
      rule,
      `${rule}, empty: carry`,
      `${rule}, all hours, empty: carry`,
    ]),
  )('bars of %s start later each, with and without a session', (rule) => {
    for (const session of [undefined, '08:00-17:00', '20:00-04:00', '00:00-23:00']) {
      const { time: starts, end } = buildBars(ticks, parseBarRule(rule), makeCalendar({ zone, session }));
      expect(starts.length).toBeGreaterThan(1);
      for (let row = 1; row < starts.length; row++)
        expect(starts[row], `${session} ${row}`).toBeGreaterThan(starts[row - 1]);
      for (let row = 0; row < starts.length; row++) expect(end[row], `${session} ${row}`).toBeGreaterThan(starts[row]);
    }
  });

  it('the skipped date is no trading day', () => {
    const calendar = makeCalendar({ zone, session: '08:00-17:00' });
    const day = Date.parse(`${skipped}T00:00:00Z`) / 86_400_000;
    expect([calendar.isOpen(day - 1), calendar.isOpen(day), calendar.isOpen(day + 1)]).toEqual([true, false, true]);
  });
});
