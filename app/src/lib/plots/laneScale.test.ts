import { makeCalendar, type Unit } from '@jaunty-ledger/core';
import { describe, expect, it } from 'vitest';
import { LedgerEntry, LedgerLane } from '$lib/api/ledgers';
import { placeOfRow, trueTimeOf } from '$lib/chart/viewWindow';
import type { DrawnBars } from '$lib/compute/protocol';
import { definitionOf, entryModels, laneUnit, rowsShort, type EntryModel } from './laneModel';
import { isFlat, laneScale, lanesOfOneScale, shapeOf } from './laneScale';
import { placesOf, timesWithThoseToCome, viewOfRows, viewWithRow } from './viewRows';
import { nextBlank, nextExtreme } from './rowColumns';
import { datesApartText, stretchText } from './stretchText';

const column = (...values: number[]) => Float64Array.from(values);

/** Prices from 100 to 103, volumes from 10 to 40. */
const bars = {
  time: column(0, 1, 2, 3),
  low: column(99, 100, 101, 102),
  high: column(101, 102, 103, 104),
  close: column(100, 101, 102, 103),
  volume: column(10, 40, 20, 30),
} as unknown as DrawnBars;

const lane = (style: Partial<LedgerLane>): LedgerLane =>
  LedgerLane.parse({ id: 'lane', base: 'price', weight: 1, entries: [], ...style });

function entry(values: Float64Array, style: Partial<LedgerEntry> = {}, unit: Unit = 'price'): EntryModel {
  return {
    entry: LedgerEntry.parse({ id: 'a', text: 'a = close', ink: 0, ...style }),
    columns: [{ name: 'a', member: '', part: '', role: undefined, values, firstValid: 0 }],
    unit,
    phrase: '',
    looksAhead: false,
    isProjection: false,
    shift: style.shift ?? 0,
    wrong: undefined,
  };
}

describe('the scale of a lane', () => {
  it('fits what is in view, bars and entries', () => {
    expect(laneScale(lane({}), bars, [], 0, 2).extent).toEqual([99, 102]);
    expect(laneScale(lane({}), bars, [entry(column(90, 95, 1, 1))], 0, 2).extent).toEqual([90, 102]);
  });

  it('takes no notice of what is hidden, and of what has the second scale', () => {
    const far = column(1, 2, 3, 4);
    expect(laneScale(lane({}), bars, [entry(far, { hidden: true })], 0, 4).extent).toEqual([99, 104]);
    const { extent, second } = laneScale(lane({}), bars, [entry(far, { second: true })], 0, 4);
    expect({ extent, second }).toEqual({ extent: [99, 104], second: [1, 4] });
  });

  it('follows a line that is drawn later to where it is drawn', () =>
    expect(laneScale(lane({ base: 'none' }), bars, [entry(column(5, 6, 7, 8), { shift: 2 })], 3, 5).extent).toEqual([
      6, 7,
    ]));

  it('knows lines beyond the last bar', () =>
    expect(laneScale(lane({}), bars, [entry(column(5, 6, 7, 8), { shift: 4 })], 4, 8).extent).toEqual([5, 8]));

  it.each([
    ['log', column(0, 1, 2, 3), /Not logarithmic: a has values down to 0/],
    ['percent', column(-4, 1, 2, 3), /Not in percent: a begins in view with -4/],
    ['log', column(1, 2, 3, 4), /^$/],
    ['percent', column(4, -1, 2, 3), /^$/],
  ] as const)('says why it is not the one that was chosen: %s of %j', (scale, values, why) => {
    const found = laneScale(lane({ scale, base: 'none' }), bars, [entry(values)], 0, 4);
    expect(found.why).toMatch(why);
    if (found.why) expect(found).toMatchObject({ extent: [Math.min(...values), 3], options: { log: false } });
  });

  it('is one with those of the lanes below that take it', () => {
    const [raw, smooth, other] = ['raw', 'smooth', 'other'].map((id) => lane({ id, base: 'none' }));
    const lanes = [raw, { ...smooth, scale: 'above' as const }, other];
    expect(
      lanes.map((one) =>
        lanesOfOneScale(lanes, one)
          .map(({ id }) => id)
          .join(),
      ),
    ).toEqual(['raw,smooth', 'raw,smooth', 'other']);
    const shared = [
      { lane: { ...raw, scale: 'log' as const }, entries: [entry(column(1, 2, 3, 9))] },
      { lane: lanes[1], entries: [entry(column(2, 2, 3, 4))] },
    ];
    for (const { lane: one, entries } of shared)
      expect(laneScale(one, bars, entries, 0, 4, shared)).toMatchObject({ extent: [1, 9], options: { log: true } });
  });

  it('in percent counts each of its series from its own first value in view', () => {
    const { unit, extent } = laneScale(lane({ scale: 'percent' }), bars, [entry(column(50, 55, 60, 100))], 1, 4);
    expect(unit).toBe('fraction');
    expect(extent![1]).toBeCloseTo(100 / 55 - 1);
  });

  it.each([
    ['volumes stand on zero', lane({ base: 'volume' }), [], true],
    ['so do columns', lane({ base: 'none' }), [entry(column(1, 2), { drawn: 'columns' })], true],
    ['lines do not', lane({ base: 'none' }), [entry(column(1, 2))], false],
    ['but where it is asked for', lane({ base: 'none', scale: 'zero' }), [entry(column(1, 2))], true],
  ])('%s', (_, of, entries, fromZero) => expect(laneScale(of, bars, entries, 0, 2).options.fromZero).toBe(fromZero));

  it('is fixed where both ends are given, and they are ends', () => {
    expect(laneScale(lane({ scale: 'fixed', low: 0, high: 10 }), bars, [], 0, 4).extent).toEqual([0, 10]);
    expect(laneScale(lane({ scale: 'fixed', low: 10, high: 0 }), bars, [], 0, 4).extent).toEqual([99, 104]);
    expect(laneScale(lane({ scale: 'fixed' }), bars, [], 0, 4).options.fixed).toBe(false);
  });

  it('tells a line that would look flat on it', () => {
    const scale = laneScale(lane({}), bars, [], 0, 4);
    expect(isFlat(entry(column(1, 1.01, 1, 1.01)), scale, 0, 4)).toBe(true);
    expect(isFlat(entry(column(1, 3, 1, 3)), scale, 0, 4)).toBe(false);
    expect(isFlat(entry(column(1, 1.01, 1, 1.01), { second: true }), scale, 0, 4)).toBe(false);
  });
});

describe('an entry of a lane', () => {
  it('is short by the rows before its first value; one that has none at all is not', () => {
    const short = entry(column(NaN, NaN, 1, 2));
    short.columns[0].firstValid = 2;
    expect(rowsShort(short)).toBe(2);
    short.columns[0].firstValid = 4;
    expect(rowsShort(short)).toBe(0);
  });

  it('gives a lane of its own its unit', () => {
    expect(laneUnit(lane({ base: 'none' }), [entry(column(1), {}, 'fraction')])).toBe('fraction');
    expect(laneUnit(lane({ base: 'price' }), [entry(column(1), {}, 'fraction')])).toBe('price');
    expect(laneUnit(lane({ base: 'none' }), [])).toBe('number');
  });

  it('tells the definition of what it begins with', () => {
    expect(definitionOf('mean(close, 20 bars) * 2')).toBe(
      'The sum of the valid values in the window over their number. sum / m',
    );
    expect(definitionOf('close - open')).toBe('');
  });

  it('whose formula cannot be used draws nothing and says why', () => {
    const wrong = { id: 'a', state: 'wrong' as const, message: 'no', position: 0, length: 1 };
    const [model] = entryModels(lane({ entries: [entry(column(1)).entry] }), new Map([['a', wrong]]));
    expect(model).toMatchObject({ columns: [], wrong: { message: 'no' } });
  });

  it('is drawn as it is chosen, but the gap of two lines as columns', () => {
    expect([shapeOf('line', undefined), shapeOf('line', 'difference'), shapeOf('steps', 'difference')]).toEqual([
      'line',
      'columns',
      'steps',
    ]);
  });
});

describe('the view of a ledger', () => {
  const calendar = makeCalendar({ zone: 'UTC', session: '08:00-16:00', weekdays: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri'] });
  const hour = 3600e6;
  const friday = Date.parse('2026-02-06T08:00Z') * 1000;
  const time = Float64Array.from({ length: 8 }, (_, i) => friday + i * hour);

  it('runs on into the days to come, over the weekend', () => {
    const times = timesWithThoseToCome(time, 3, '1 hour', calendar);
    expect(times.length).toBe(11);
    expect(new Date(times[8] / 1000).toISOString()).toBe('2026-02-09T08:00:00.000Z');
    expect(timesWithThoseToCome(time, 3, '500 trades', calendar).length).toBe(8);
    expect(timesWithThoseToCome(time, 0, '1 hour', calendar)).toBe(time);
  });

  it('of some rows shows these and no others, side by side and in true time', () => {
    const axis = trueTimeOf(timesWithThoseToCome(time, 3, '1 hour', calendar), 8);
    for (const trueTime of [undefined, axis]) {
      const places = placesOf(11, 8, trueTime);
      const view = viewOfRows(9, 11, places, trueTime);
      expect(view.first + view.count).toBeLessThanOrEqual(places + 1e-9);
      expect(placeOfRow(view, 10)).toBeLessThan(view.first + view.count);
    }
    expect(placesOf(11, 8, axis)).toBeGreaterThan(placesOf(11, 8, undefined)); // a weekend lies between
  });

  it('moves no more than it must to show a row', () => {
    const view = { first: 10, count: 5 };
    expect(viewWithRow(view, 12, 10, 15)).toBe(view);
    expect(viewWithRow(view, 9, 10, 15).first).toBe(9);
    expect(viewWithRow(view, 15, 10, 15).first).toBe(11);
    expect(viewWithRow(view, 100, 10, 15).first).toBe(97.5);
  });
});

describe('the rows', () => {
  it('have a next blank, or none', () => {
    expect(nextBlank(column(NaN, 1, NaN, 2), 0)).toBe(2);
    expect(nextBlank(column(NaN, 1, 2), 0)).toBeUndefined();
  });

  it('have a next extreme: the greatest or the least far and wide', () => {
    const wave = Float64Array.from({ length: 1000 }, (_, i) => Math.sin(i / 60));
    const peak = nextExtreme(wave, 1)!;
    expect(peak).toBe(Math.round(30 * Math.PI));
    expect(wave[nextExtreme(wave, peak)!]).toBeLessThan(-0.999);
  });
});

describe('a stretch of time', () => {
  it.each([
    [0, '0 s'],
    [1500, '0.002 s'],
    [61e6, '1 min 1 s'],
    [25 * 60e6, '25 min'],
    [26 * hour(1), '1 day 2 h'],
    [3 * 24 * hour(1) + 4 * hour(1) + 5e6, '3 days 4 h'],
  ])('of %d µs is %s', (micros, text) => expect(stretchText(micros)).toBe(text));

  it.each([
    ['2024-01-31', '2024-02-29', '1 month'],
    ['2024-01-31', '2024-03-01', '1 month 1 day'],
    ['2019-03-01', '2022-01-01', '2 years 10 months'],
    ['2019-03-01', '2021-03-05', '2 years 4 days'],
    ['2026-03-02', '2026-03-09', '7 days'],
    ['2026-03-02', '2026-03-02', '0 days'],
  ])('from %s to %s is %s', (from, to, text) =>
    expect(datesApartText(...([from, to].map((date) => Date.parse(date) * 1000) as [number, number]))).toBe(text),
  );

  function hour(count: number) {
    return count * 3600e6;
  }
});
