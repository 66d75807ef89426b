import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readClosedDays, writeClosedDays } from './icalendar';

const HARBOUR = { zone: 'Atlantic/Faroe', session: '08:30-16:30' };
const NOW = new Date('2026-11-28T00:00:00Z');

const calendar = (...events: string[][]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//made up//EN']
    .concat(
      events.flatMap((lines, at) => ['BEGIN:VEVENT', `UID:${at}`, 'DTSTAMP:20260101T000000Z', ...lines, 'END:VEVENT']),
    )
    .concat('END:VCALENDAR', '')
    .join('\r\n');
const closedOf = (...events: string[][]) => readClosedDays(calendar(...events), HARBOUR, NOW);

describe('closed days of an iCalendar file', () => {
  it.each([
    ['a day', ['DTSTART;VALUE=DATE:20261225'], ['2026-12-25']],
    [
      'some days',
      ['DTSTART;VALUE=DATE:20261224', 'DTEND;VALUE=DATE:20261227'],
      ['2026-12-24', '2026-12-25', '2026-12-26'],
    ],
    ['days for so long', ['DTSTART;VALUE=DATE:20261224', 'DURATION:P2D'], ['2026-12-24', '2026-12-25']],
    ['an afternoon', ['DTSTART:20261224T120000Z', 'DTEND:20261224T180000Z'], ['2026-12-24 12:00']],
    ['by the clock of the market', ['DTSTART:20260724T110000Z', 'DTEND:20260724T160000Z'], ['2026-07-24 12:00']],
    ['a day by its hours', ['DTSTART:20261224T000000Z', 'DTEND:20261225T000000Z'], ['2026-12-24']],
  ])('%s', (_, lines, closed) => expect(closedOf(lines)).toEqual({ closed, passedOver: 0 }));

  it('are followed where a rule repeats them, and not where it leaves one out', () => {
    const { closed } = closedOf([
      'DTSTART;VALUE=DATE:20241226',
      'RRULE:FREQ=YEARLY;COUNT=3',
      'EXDATE;VALUE=DATE:20251226',
    ]);
    expect(closed).toEqual(['2024-12-26', '2026-12-26']);
    expect(closedOf(['DTSTART;VALUE=DATE:20250601', 'RRULE:FREQ=YEARLY']).closed).toHaveLength(12);
  });

  it.each([
    ['goes back', 'FREQ=DAILY;INTERVAL=-1', 'INTERVAL is a whole number'],
    ['stands still', 'FREQ=DAILY;INTERVAL=0', 'INTERVAL is a whole number'],
    ['repeats each second', 'FREQ=SECONDLY', 'DAILY, WEEKLY, MONTHLY or YEARLY'],
    ['repeats each hour', 'FREQ=HOURLY;COUNT=9', 'DAILY, WEEKLY, MONTHLY or YEARLY'],
    [
      'repeats each second of a day',
      `FREQ=DAILY;BYHOUR=${[...Array(24).keys()]};BYMINUTE=${[...Array(60).keys()]}`,
      'more than 400 times',
    ],
    ['has no frequency', 'INTERVAL=1', 'DAILY, WEEKLY, MONTHLY or YEARLY'],
  ])('are refused where a rule %s', (_, rule, words) =>
    expect(() => closedOf(['DTSTART;VALUE=DATE:20260101', `RRULE:${rule}`])).toThrow(words),
  );

  it('are refused where a rule has repeated for centuries, that of a zone as well', () => {
    expect(() => closedOf(['DTSTART;VALUE=DATE:16000101', 'RRULE:FREQ=DAILY'])).toThrow('since 1600');
    const zone = ['BEGIN:VTIMEZONE', 'TZID:X', 'BEGIN:STANDARD', 'RRULE:FREQ=DAILY', 'DTSTART:16000101T000000'];
    const ends = ['END:STANDARD', 'END:VTIMEZONE', 'END:VCALENDAR'];
    expect(() => readClosedDays(['BEGIN:VCALENDAR', ...zone, ...ends].join('\n'), HARBOUR, NOW)).toThrow('since 1600');
  });

  it('are refused where components are nested or left open, however many', () => {
    const nested = (begins: number, ends: number) =>
      ['BEGIN:VCALENDAR', ...Array(begins).fill('BEGIN:VEVENT'), ...Array(ends).fill('END:VEVENT')].join('\n');
    expect(() => readClosedDays(nested(20_000, 20_000), HARBOUR, NOW)).toThrow('lies within another');
    expect(() => readClosedDays(nested(1, 0), HARBOUR, NOW)).toThrow('VEVENT does not end');
    expect(() => readClosedDays(nested(1, 2), HARBOUR, NOW)).toThrow('ends no component');
  });

  it('end with the last of the ten years, however late a rule ends', () => {
    const { closed } = closedOf(['DTSTART;VALUE=DATE:20260601', 'RRULE:FREQ=YEARLY;UNTIL=99990101']);
    expect(closed.length).toBe(11);
  });

  it('leave out what lies within a day', () =>
    expect(closedOf(['DTSTART:20261224T090000Z', 'DTEND:20261224T100000Z'])).toEqual({ closed: [], passedOver: 1 }));

  it('are refused where a file is none, or tells no beginning', () => {
    expect(() => readClosedDays('time,price\n', HARBOUR, NOW)).toThrow('it does not begin with BEGIN:VCALENDAR');
    expect(() => closedOf(['DTSTART:soon'])).toThrow(/iCalendar file/);
    const endless = ['DTSTART;VALUE=DATE:20200101', 'RRULE:FREQ=DAILY'];
    expect(() => closedOf(endless)).toThrow('more than 5,000 closed days');
  });

  it('come back as they were written', () => {
    const day = fc.date({ min: new Date('1990-01-01'), max: new Date('2050-01-01'), noInvalidDate: true });
    const closed = fc.uniqueArray(fc.tuple(day, fc.constantFrom('', ' 09:00', ' 12:30', ' 16:00')), {
      selector: ([date]) => date.toISOString().slice(0, 10),
      maxLength: 30,
    });
    fc.assert(
      fc.property(closed, fc.constantFrom('UTC', 'Atlantic/Faroe', 'America/Chicago'), (days, zone) => {
        const texts = days.map(([date, early]) => `${date.toISOString().slice(0, 10)}${early}`).sort();
        const file = writeClosedDays('Tarn Harbour', { zone, closed: texts }, NOW);
        expect(readClosedDays(file, { zone, session: '08:30-16:30' }, NOW).closed).toEqual(texts);
      }),
      { numRuns: 60 },
    );
  });
});
