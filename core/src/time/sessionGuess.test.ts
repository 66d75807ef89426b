import fc from 'fast-check';
import { expect, it } from 'vitest';
import { makeCalendar } from './calendar.js';
import { DAY, MINUTE } from './instant.js';
import { SessionSeeker } from './sessionGuess.js';

const seek = (walls: readonly number[]) => {
  const seeker = new SessionSeeker();
  for (const wall of walls) seeker.add(wall);
  return seeker.guess();
};
/** A Monday. */
const MONDAY = 20_486 * DAY;

it('a session that is guessed leaves no record out', () =>
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 200 }),
      fc.integer({ min: 2, max: 80 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 60 }), fc.nat()), { minLength: 20, maxLength: 80 }),
      (from, length, records) => {
        const walls = records
          .map(([day, at]) => MONDAY + day * DAY + ((from * 5 * MINUTE + (at % (length * 5 * MINUTE))) % DAY))
          .sort((a, b) => a - b);
        const guess = seek(walls);
        if (!guess) return;
        const calendar = makeCalendar({ zone: 'UTC', ...guess });
        expect(walls.every((wall) => calendar.inSession(wall))).toBe(true);
      },
    ),
  ));

it('is told of hours on working days, and not of a few records, of all hours, or of one time of the day', () => {
  const days = (count: number, clocks: readonly number[]) =>
    Array.from({ length: count }, (_, day) => day)
      .filter((day) => day % 7 < 5)
      .flatMap((day) => clocks.map((clock) => MONDAY + day * DAY + clock * MINUTE));
  expect(seek(days(10, [570, 600, 720, 959]))).toEqual({
    session: '09:30-16:00',
    weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  });
  expect(seek(days(2, [570, 600, 720, 959]))).toBeUndefined();
  expect(seek(days(10, [5, 600, 720, 1430]))).toBeUndefined();
  expect(seek(days(40, [0]))).toBeUndefined();
});
