import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from './calendar.js';
import { dateText, dayNumber } from './instant.js';
import { TimeReader } from './timeText.js';
import { Zone } from './zone.js';

const utc = (text: string) => Date.parse(text) * 1000;
const ZONES = ['Atlantic/Faroe', 'America/New_York', 'Australia/Lord_Howe', 'America/Santiago', 'Asia/Kolkata', 'UTC'];

describe('a zone', () => {
  const instants = fc.integer({ min: utc('1995-01-01T00:00Z') / 1e6, max: utc('2040-01-01T00:00Z') / 1e6 });

  it('shows the wall clock that the calendar of the platform shows', () =>
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), instants, (name, seconds) => {
        const parts = new Intl.DateTimeFormat('sv-SE', { timeZone: name, dateStyle: 'short', timeStyle: 'medium' });
        const shown = Date.parse(`${parts.format(seconds * 1000).replace(' ', 'T')}Z`) * 1000;
        expect(new Zone(name).wallAt(seconds * 1e6)).toBe(shown);
      }),
    ));

  it('finds an instant again from its wall clock, or the earlier of two', () =>
    fc.assert(
      fc.property(fc.constantFrom(...ZONES), instants, (name, seconds) => {
        const zone = new Zone(name);
        const { instant, kind } = zone.resolve(zone.wallAt(seconds * 1e6));
        if (kind === 'once') expect(instant).toBe(seconds * 1e6);
        else expect(instant).toBeLessThanOrEqual(seconds * 1e6);
      }),
    ));

  it('tells a clock time that a night skips, and one that it repeats', () => {
    const zone = new Zone('Atlantic/Faroe');
    const skipped = zone.resolve(utc('2026-03-29T01:30Z'));
    expect(skipped).toEqual({ kind: 'skipped', instant: utc('2026-03-29T01:00Z') });
    expect(zone.resolve(utc('2026-10-25T01:30Z'))).toEqual({ kind: 'repeated', instant: utc('2026-10-25T00:30Z') });
  });

  it('says what a zone is called when it does not know one', () =>
    expect(() => new Zone('Atlantis')).toThrow('zone must be the IANA name of a time zone'));
});

describe('a calendar', () => {
  const night = makeCalendar({ zone: 'America/Chicago', session: '17:00-16:00', weekdays: ['Mon', 'Tue'] });

  it('gives the evening before to the trading day on which the session closes', () => {
    const day = night.dayAt(utc('2026-03-01T23:30Z')); // Sunday 17:30 in Chicago
    expect(dateText(day.date)).toBe('2026-03-02');
    expect(night.inSession(utc('2026-03-01T23:30Z'))).toBe(true);
    expect(night.inSession(utc('2026-03-02T22:00Z'))).toBe(false); // the very close
  });

  it('closes on closed dates, and early where a date says so', () => {
    const closed = ['2026-12-25', '2026-12-24 12:00'];
    const calendar = makeCalendar({ zone: 'UTC', session: '08:30-16:30', closed });
    expect(calendar.isOpen(dayNumber('2026-12-25'))).toBe(false);
    expect(calendar.dayOn(dayNumber('2026-12-24')).closesAt).toBe(utc('2026-12-24T12:00Z'));
  });

  it.each([
    [{ session: '8-16' }, /session must be an opening and a closing time/],
    [{ weekdays: ['Monday'] }, /weekdays must be one or more of Mon/],
    [{ weekdays: [] }, /weekdays/],
    [{ closed: ['2026-02-30'] }, /closed must be dates/],
  ])('refuses %o', (options, message) => expect(() => makeCalendar({ zone: 'UTC', ...options })).toThrow(message));
});

describe('reading times', () => {
  const reader = new TimeReader(makeCalendar({ zone: 'Atlantic/Faroe', session: '08:30-16:30' }));
  const read = (text: string) => reader.read(new TextEncoder().encode(text), 0, text.length);

  it.each([
    ['2026-01-05T08:30:00.015Z', utc('2026-01-05T08:30:00.015Z')],
    ['2026-01-05 08:30:00+01:00', utc('2026-01-05T07:30:00Z')],
    ['2026-01-05T08:30-0530', utc('2026-01-05T14:00:00Z')],
    ['2026-07-01 08:30', utc('2026-07-01T07:30:00Z')], // summer time in the zone
    ['2026-01-05T08:30:00.1234567Z', utc('2026-01-05T08:30:00Z') + 123_456], // cut to microseconds
    ['2026-07-01', utc('2026-07-01T07:30:00Z')], // a trading day: its opening
    ['1767601800', 1767601800e6],
    ['1767601800.015', 1767601800e6 + 15_000],
    ['1767601800015', 1767601800015e3],
    ['1767601800015123', 1767601800015123],
    ['1767601800015123999', 1767601800015123],
  ])('%s', (text, instant) => expect(read(text)).toBe(instant));

  it.each([
    '',
    'noon',
    '100.25',
    '2026-13-01',
    '2026-02-30T10:00:00Z',
    '2026-01-05T25:00',
    '2026-01-05T08:30:00X',
    '2026-01-05T08:30:00+99:00',
  ])('refuses "%s" and says why', (text) => {
    expect(read(text)).toBeNaN();
    expect(reader.reason).not.toBe('');
  });

  it('refuses a clock time that does not exist, and marks one that exists twice', () => {
    expect(read('2026-03-29 01:30')).toBeNaN();
    expect(reader.reason).toContain('does not exist in Atlantic/Faroe');
    expect(read('2026-10-25 01:30')).toBe(utc('2026-10-25T00:30Z'));
    expect(reader.repeated).toBe(true);
  });

  it('reads back any instant that is written in UTC', () =>
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1980-01-01'), max: new Date('2200-01-01'), noInvalidDate: true }),
        (date) => {
          expect(read(date.toISOString())).toBe(date.getTime() * 1000);
        },
      ),
    ));
});
