import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { WEEKDAYS } from './calendar.js';
import { dayNumber } from './instant.js';
import { WeekdaySeeker } from './weekdayGuess.js';

const MONDAY = dayNumber('2024-01-01');

/** What is inferred of dates, counted in days from a Monday. */
function inferred(days: readonly number[]): WeekdaySeeker {
  const seeker = new WeekdaySeeker();
  // several records a date
  for (const day of days) for (let record = 0; record < 2; record++) seeker.add(MONDAY + day);
  return seeker;
}
const upTo = (days: number, isIn: (day: number) => boolean) =>
  Array.from({ length: days }, (_, day) => day).filter(isIn);
const isWorking = (day: number) => day % 7 < 5;

describe('weekdays inferred from the dates of records', () => {
  it('are those that have some, from 30 dates in 6 weeks on', () => {
    expect(inferred(upTo(42, isWorking)).openDays()).toEqual(['Mon', 'Tue', 'Wed', 'Thu', 'Fri']);
    expect(inferred(upTo(39, isWorking)).openDays()).toBe(undefined); // 29 dates
    expect(inferred(upTo(35, isWorking)).openDays()).toBe(undefined);
    expect(inferred(upTo(700, () => true)).openDays()).toBe(undefined);
    expect(inferred(upTo(700, (day) => day % 7 === 4)).openDays()).toEqual(['Fri']);
  });

  it('close a weekday with records in under 0.5 % of the weeks, which are strays then', () => {
    const withSaturdays = (count: number) =>
      inferred(upTo(7 * 401, (day) => isWorking(day) || (day % 7 === 5 && day < 7 * count)));
    expect(withSaturdays(2).openDays()).toEqual(WEEKDAYS.slice(0, 5));
    expect(withSaturdays(2).hasStrays).toBe(true);
    expect(withSaturdays(0).hasStrays).toBe(false);
    expect(withSaturdays(3).openDays()).toEqual(WEEKDAYS.slice(0, 6));
  });

  it('are not inferred from months, whose weekdays are chance', () => {
    expect(inferred(upTo(30 * 40, (day) => day % 30 === 0)).openDays()).toBe(undefined);
  });

  it('never close a weekday that has a record in each week', () =>
    fc.assert(
      fc.property(
        fc.subarray([0, 1, 2, 3, 4, 5, 6], { minLength: 1 }),
        fc.integer({ min: 5, max: 60 }),
        (open, weeks) => {
          const days = inferred(upTo(7 * weeks, (day) => open.includes(day % 7))).openDays();
          if (open.length * weeks < 30 || weeks < 6 || open.length === 7) expect(days).toBe(undefined);
          else expect(days).toEqual(open.map((day) => WEEKDAYS[day]));
        },
      ),
    ));
});
