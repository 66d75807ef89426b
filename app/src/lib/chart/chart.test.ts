import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { makeCalendar } from '@jaunty-ledger/core';
import { priceScale } from './priceScale';
import { asRange, extentOf } from './extent';
import { dayStarts, ticksInView } from './calendarTicks';
import { clamped, panned, rowAtX, wholeSpan, xOfRow, zoomed } from './viewWindow';

const rows = fc.integer({ min: 1, max: 100_000 });
const view = fc.record({
  first: fc.double({ min: -10, max: 1e5, noNaN: true }),
  count: fc.double({ min: 0.1, max: 1e6, noNaN: true }),
});

describe('the view', () => {
  it('never leaves its rows, whatever is done to it', () =>
    fc.assert(
      fc.property(
        rows,
        view,
        fc.double({ min: -1e6, max: 1e6, noNaN: true }),
        fc.double({ min: 0.1, max: 10, noNaN: true }),
        (n, start, by, factor) => {
          for (const next of [
            clamped(start, n),
            panned(start, by, n),
            zoomed(start, factor, 0.3, n),
            panned(clamped(start, n), Infinity, n),
          ]) {
            expect(next.first).toBeGreaterThanOrEqual(0);
            expect(next.first + next.count).toBeLessThanOrEqual(n + 1e-6);
          }
        },
      ),
    ));

  it('keeps the row under the pointer where it is while it zooms', () => {
    const before = { first: 500, count: 200 };
    const after = zoomed(before, 0.5, 0.25, 10_000);
    expect(after.first + 0.25 * after.count).toBeCloseTo(before.first + 0.25 * before.count, 9);
  });

  it('finds the row of a pixel again', () =>
    fc.assert(
      fc.property(fc.nat(99), fc.integer({ min: 200, max: 2000 }), (row, width) => {
        expect(rowAtX({ first: 0, count: 100 }, xOfRow({ first: 0, count: 100 }, row, width), width)).toBe(row);
      }),
    ));
});

it('the extent by blocks is the extent of the rows', () =>
  fc.assert(
    fc.property(
      fc.array(fc.oneof(fc.integer(), fc.constant(NaN)), { minLength: 1, maxLength: 400 }),
      fc.nat(400),
      fc.nat(400),
      (values, a, b) => {
        const column = Float64Array.from(values);
        const [from, to] = [Math.min(a, b, values.length), Math.min(Math.max(a, b), values.length)];
        const inside = values.slice(from, to).filter((value) => !Number.isNaN(value));
        const wanted = inside.length > 0 ? [Math.min(...inside), Math.max(...inside)] : undefined;
        const ranged = asRange(column);
        // a second time by what was kept at the first
        for (let time = 0; time < 2; time++) expect(extentOf(ranged, from, to)).toEqual(wanted);
      },
    ),
  ));

describe('the scale of a lane', () => {
  it('fits what is visible, not zero', () => expect(priceScale([100, 101], 200).domain()[0]).toBeGreaterThan(99));
  it('stands columns on zero', () => expect(priceScale([400, 500], 200, { fromZero: true }).domain()[0]).toBe(0));
  it('shows a flat line in its middle', () => expect(priceScale([5, 5], 200)(5)).toBeCloseTo(100));
});

describe('vertical rules', () => {
  const calendar = makeCalendar({
    zone: 'Atlantic/Faroe',
    session: '08:30-16:30',
    weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'],
  });
  const opening = Date.parse('2026-03-25T08:30:00Z') * 1000;
  const DAY = 86_400e6;
  // five trading days of 32 quarter hours; the clocks go forward over the weekend
  const openings = [0, 1, 2, 5, 6].map((day) => opening + day * DAY - (day > 3 ? 3600e6 : 0));
  const time = Float64Array.from(openings.flatMap((at) => Array.from({ length: 32 }, (_, i) => at + i * 900e6)));
  const days = dayStarts(time, calendar);
  const textsOf = (first: number, count: number) =>
    ticksInView({ first, count }, time, days, calendar, 900).map(({ text }) => text);

  it('stand where trading days begin', () => expect([...days.rows]).toEqual([0, 32, 64, 96, 128]));
  it('name the days where there is room', () => expect(textsOf(0, 160)).toContain('Fri 27 Mar'));
  it('name clock times between them when zoomed in, by the clock of the market', () => {
    expect(textsOf(96, 32)).toContain('Mon 30 Mar');
    expect(textsOf(96, 32)).toContain('12:00');
  });

  it('name the last turn before its rule where there is no room after it', () => {
    const last = ticksInView({ first: 0, count: 129 }, time, days, calendar, 900).at(-1)!;
    expect([last.text, last.isLeft]).toEqual(['Tue 31 Mar', true]);
  });

  it('say what the first row in view lies in where nothing turns in view', () =>
    expect(textsOf(3, 4)).toEqual(expect.arrayContaining(['Wed 25 Mar', '09:45'])));

  it('name the years of monthly bars at every zoom', () => {
    const months = Float64Array.from({ length: 120 }, (_, month) => Date.UTC(2015, month, 1) * 1000);
    const utc = makeCalendar({ zone: 'UTC' });
    const starts = dayStarts(months, utc);
    fc.assert(
      fc.property(
        fc.nat(119),
        fc.integer({ min: 1, max: 120 }),
        fc.integer({ min: 120, max: 2000 }),
        fc.constantFrom('month' as const, 'quarter' as const, 'year' as const),
        (first, count, width, precision) => {
          const view = clamped({ first, count }, 120);
          const texts = ticksInView(view, months, starts, utc, width, precision).map(({ text }) => text);
          expect(texts.join(' ')).toMatch(/20\d\d/);
        },
      ),
    );
  });

  it.each([
    [300, 12, 900, ['1725', '1750', '1775']],
    [40, 12, 900, ['1705', '1710', '1715']],
    [300, 12, 300, ['1750', '1800', '1850']],
    [1, 1, 900, ['Feb', 'Mar', 'Apr']],
    [5, 1, 900, ['Apr', 'Jul', 'Oct', '1701']],
  ])(
    'are at round years, or months between them: %i years of bars of %i months on %i px',
    (years, months, width, some) => {
      const start = (row: number) => new Date(Date.UTC(1700, row * months, 1)).getTime() * 1000;
      const time = Float64Array.from({ length: (12 * years) / months }, (_, row) => start(row));
      const utc = makeCalendar({ zone: 'UTC' });
      const precision = months === 12 ? ('year' as const) : ('month' as const);
      const ticks = ticksInView(wholeSpan(time.length), time, dayStarts(time, utc), utc, width, precision);
      expect(ticks.map(({ text }) => text)).toEqual(expect.arrayContaining(some));
      expect(ticks.every(({ text }) => text !== '')).toBe(true);
      expect(ticks.length).toBeGreaterThan(4);
    },
  );

  it('name parts of a second where bars are that short', () => {
    const start = Date.parse('2026-03-25T08:30:00Z') * 1000;
    const quick = Float64Array.from({ length: 40 }, (_, row) => start + row * 25_000);
    const texts = ticksInView({ first: 0, count: 40 }, quick, dayStarts(quick, calendar), calendar, 900);
    expect(texts.map(({ text }) => text)).toContain('08:30:00.200');
  });

  it('never lets two texts run into each other', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 150 }),
        fc.integer({ min: 8, max: 160 }),
        fc.integer({ min: 200, max: 2000 }),
        (first, count, width) => {
          const texts = ticksInView(clamped({ first, count }, 160), time, days, calendar, width).filter(
            ({ text }) => text,
          );
          const placed = texts.map(({ x, text, isLeft }) => {
            const length = Math.min(52, 7 * text.length);
            return isLeft ? [x - length, x] : [x, x + length];
          });
          placed.slice(1).forEach(([from], at) => expect(from).toBeGreaterThanOrEqual(placed[at][1] - 1e-6));
        },
      ),
    ));
});
