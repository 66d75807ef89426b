import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar, WEEKDAYS, type CalendarOptions } from './calendar.js';
import { DAY, dateText, HOUR, MINUTE, weekdayOf, type Instant } from './instant.js';

/* Trading days tile the time, whatever a zone does to its clocks, and hold their sessions. */

/** Half hours, changes at midnight, changes of half an hour, a month of other time, a date that was skipped. */
const ZONES = [
  'UTC',
  'Atlantic/Faroe',
  'America/New_York',
  'America/Santiago',
  'Asia/Kolkata',
  'Australia/Lord_Howe',
  'Africa/Casablanca',
  'Pacific/Apia',
];
const START = Date.parse('2011-01-01T00:00Z') * 1000;
const instants = fc.integer({ min: 0, max: 16 * 365 * 24 * 60 }).map((minutes) => START + minutes * MINUTE);

const clock = (minutes: number) =>
  [Math.floor(minutes / 60), minutes % 60].map((part) => String(part).padStart(2, '0')).join(':');
const options: fc.Arbitrary<CalendarOptions> = fc.record({
  zone: fc.constantFrom(...ZONES),
  session: fc.option(
    fc
      .uniqueArray(fc.integer({ min: 0, max: 95 }), { minLength: 2, maxLength: 2 })
      .map(([open, close]) => `${clock(open * 15)}-${clock(close * 15)}`),
    { nil: undefined },
  ),
  weekdays: fc.option(fc.subarray([...WEEKDAYS], { minLength: 1 }), { nil: undefined }),
  closeIncluded: fc.boolean(),
});

describe('trading days', () => {
  it('follow each other without a gap, and each instant lies in one', () =>
    fc.assert(
      fc.property(options, instants, (given, instant) => {
        const calendar = makeCalendar(given);
        const day = calendar.dayAt(instant);
        expect(instant >= day.startsAt && instant < day.endsAt).toBe(true);
        expect(calendar.dayOn(day.date)).toBe(day);
        expect(calendar.dayOn(day.date + 1).startsAt).toBe(day.endsAt);
        expect(calendar.dayOn(day.date - 1).endsAt).toBe(day.startsAt);
      }),
      { numRuns: 500 },
    ));

  it('hold their sessions, which are as long as the clock says but where it changes', () =>
    fc.assert(
      fc.property(options, instants, (given, instant) => {
        const calendar = makeCalendar(given);
        const { startsAt, endsAt, opensAt, closesAt } = calendar.dayAt(instant);
        expect(opensAt).toBeGreaterThanOrEqual(startsAt);
        expect(closesAt).toBeLessThanOrEqual(endsAt);
        expect(opensAt).toBeLessThanOrEqual(closesAt);
        // the evening before counts too: one zone has skipped a whole date
        const changes = calendar.zone.offsetAt(startsAt - DAY) !== calendar.zone.offsetAt(endsAt);
        if (changes || given.session === undefined) return;
        const [open, close] = given.session
          .split('-')
          .map((text) => Number(text.slice(0, 2)) * 60 + Number(text.slice(3)));
        const length = close === 0 ? 1440 - open : (close - open + 1440) % 1440;
        expect((closesAt - opensAt) / MINUTE).toBe(length);
      }),
      { numRuns: 500 },
    ));

  it('are the same in whatever order one asks', () =>
    fc.assert(
      fc.property(options, fc.array(instants, { minLength: 1, maxLength: 20 }), (given, some) => {
        const asked = makeCalendar(given);
        const found = some.map((instant) => asked.dayAt(instant));
        expect(found).toEqual(some.map((instant) => makeCalendar(given).dayAt(instant)));
      }),
      { numRuns: 200 },
    ));
});

describe('a session', () => {
  /** Whether the platform's own clock stands between opening and close, on a day with trading. */
  function isOpenByTheWall({ zone, session, weekdays, closeIncluded }: CalendarOptions, at: Instant) {
    const parts = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      dateStyle: 'short',
      timeStyle: 'medium',
      hourCycle: 'h23',
    }).format(at / 1000);
    const [, day, month, year, time] = /^(\d+)\/(\d+)\/(\d+), (\d\d:\d\d)/.exec(parts)!;
    const date = Date.UTC(Number(year), Number(month) - 1, Number(day)) / 86_400_000;
    const [open, close] = session!.split('-');
    const trades = (on: number) => !weekdays || weekdays.includes(WEEKDAYS[weekdayOf(on)]);
    const isBefore = (end: string) => time < end || (closeIncluded === true && time === end);
    if (close === '00:00') return trades(date) && time >= open;
    if (open < close) return trades(date) && time >= open && isBefore(close);
    // the evening belongs to the day on which the session closes
    return time >= open ? trades(date + 1) : trades(date) && isBefore(close);
  }

  it('is open when the clock on the wall says so', () =>
    fc.assert(
      fc.property(options, instants, (given, instant) => {
        fc.pre(given.session !== undefined);
        const calendar = makeCalendar(given);
        const near = [-26 * HOUR, 26 * HOUR].map((away) => calendar.zone.offsetAt(instant + away));
        fc.pre(near[0] === near[1]); // a change of clocks has examples of its own
        expect(calendar.inSession(instant)).toBe(isOpenByTheWall(given, instant));
      }),
      { numRuns: 1000 },
    ));

  it('is not on closed dates, and ends early where they say so; the next open day is the first after', () =>
    fc.assert(
      fc.property(options, instants, fc.integer({ min: 0, max: 95 }), (given, instant, quarter) => {
        const date = makeCalendar(given).dayAt(instant).date;
        const early = clock(quarter * 15);
        const calendar = makeCalendar({ ...given, closed: [dateText(date), `${dateText(date + 1)} ${early}`] });
        const [closed, short] = [calendar.dayOn(date), calendar.dayOn(date + 1)];
        expect(closed.open).toBe(false);
        expect(calendar.inSession(closed.opensAt) && calendar.dayAt(closed.opensAt) === closed).toBe(false);
        const wall = calendar.zone.wallAt(short.closesAt) - (date + 1) * DAY;
        if (
          short.closesAt > short.opensAt &&
          calendar.zone.offsetAt(short.startsAt) === calendar.zone.offsetAt(short.endsAt)
        )
          expect(wall / MINUTE).toBe(quarter * 15);
        let next = date + 1;
        while (!calendar.isOpen(next)) next++;
        expect(calendar.openDayAfter(date).date).toBe(next);
      }),
      { numRuns: 300 },
    ));
});
