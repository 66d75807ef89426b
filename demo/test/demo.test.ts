import { describe, expect, it } from 'vitest';
import { evaluate, makeCalendar } from '@jaunty-ledger/core';
import { pathCount, widened } from '../../core/test/simulations.js';
import { INSTRUMENTS } from '../src/instruments.js';
import {
  demoFiles,
  demoTapes,
  flawedFile,
  fractionalNoise,
  Random,
  TARN_HARBOUR,
  type DemoTape,
} from '../src/index.js';

/* The demo states what a measure ought to find; here it is found by the plainest means. */

const tapes = new Map<string, DemoTape>();
for (const tape of demoTapes()) tapes.set(tape.name, tape);
const columns = (name: string) => tapes.get(name)!.columns;
const logMoves = (prices: ArrayLike<number>) =>
  Array.from({ length: prices.length - 1 }, (_, i) => Math.log(prices[i + 1] / prices[i]));
const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const deviation = (values: number[]) => {
  const centre = mean(values);
  return Math.sqrt(mean(values.map((value) => (value - centre) ** 2)));
};

function correlation(a: number[], b: number[]): number {
  const [meanA, meanB] = [mean(a), mean(b)];
  return mean(a.map((value, i) => (value - meanA) * (b[i] - meanB))) / (deviation(a) * deviation(b));
}

/** H from how the deviation of moves grows with their length: over `long` steps it is long^H times that over one. */
function growth(moves: number[], long: number): number {
  const sums = Array.from({ length: Math.floor(moves.length / long) }, (_, i) =>
    moves.slice(i * long, (i + 1) * long).reduce((sum, move) => sum + move, 0),
  );
  return Math.log(deviation(sums) / deviation(moves)) / Math.log(long);
}

it('holds each instrument as trades, minutes and days', () =>
  expect([...tapes.keys()].sort()).toEqual(
    INSTRUMENTS.flatMap(({ name }) => [name, `${name}_days`, `${name}_minutes`]).sort(),
  ));

it('is the same each time', () => {
  const [again] = demoTapes();
  expect(again.columns).toEqual(columns('KELP'));
});

describe.each([...tapes.values()].map((tape) => [tape.name, tape] as const))(
  '%s',
  (_, { columns: { time, ...values }, kind }) => {
    const calendar = makeCalendar(TARN_HARBOUR);

    it('rises in time, and lies within the sessions', () => {
      expect(time.every((at, row) => row === 0 || at >= time[row - 1])).toBe(true);
      expect(time.every((at) => calendar.inSession(at))).toBe(true);
    });

    it('has no flaws: those are in the file that is meant to have them', () => {
      for (const column of Object.values(values)) expect(column.every((value) => value > 0)).toBe(true);
      const { open, high, low, close } = values;
      if (kind === 'bars')
        expect(
          open.every(
            (price, row) => high[row] >= Math.max(price, close[row]) && low[row] <= Math.min(price, close[row]),
          ),
        ).toBe(true);
    });
  },
);

describe('what the notes of the tapes say', () => {
  // at 0.9 the means of finite stretches hide part of the growth
  it.each([
    [0.3, 0.03],
    [0.5, 0.03],
    [0.7, 0.03],
    [0.9, 0.06],
  ])('exact fractional noise grows by its own H, %d', (hurst, within) => {
    const found = mean(
      Array.from({ length: 20 }, (_, seed) => growth([...fractionalNoise(4096, hurst, new Random(seed + 1))], 16)),
    );
    expect(Math.abs(found - hurst)).toBeLessThan(within);
  });

  it('KELP persists', () => expect(growth(logMoves(columns('KELP_minutes').close), 60)).toBeGreaterThan(0.58));

  it('SALT swings back', () => {
    const moves = logMoves(columns('SALT_minutes').close);
    expect(growth(moves, 480 * 10)).toBeLessThan(0.42);
  });

  it('AMBR has quiet days and wild ones', () => {
    const moves = logMoves(columns('AMBR_days').close)
      .map(Math.abs)
      .sort((a, b) => a - b);
    const share = (p: number) => moves[Math.floor(p * moves.length)];
    expect(share(0.9) / share(0.4)).toBeGreaterThan(6);
  });

  it('TIDE turns about with a period of ten trading days', () => {
    const moves = columns('TIDE_days').close;
    const levels = [...moves].slice(0, 1900).map(Math.log);
    expect(correlation(levels.slice(10), levels.slice(0, -10))).toBeGreaterThan(0.7);
    expect(correlation(levels.slice(5), levels.slice(0, -5))).toBeLessThan(-0.5);
  });

  it('LAMP and WOOL go together, part for three weeks, and come back', () => {
    const [lamp, wool] = [columns('LAMP_minutes'), columns('WOOL_minutes')];
    const woolAt = new Map(Array.from(wool.time, (at, row) => [at, wool.close[row]]));
    const shared = Array.from(lamp.time, (at, row) => ({ at, lamp: lamp.close[row], wool: woolAt.get(at) })).filter(
      ({ wool: price }) => price !== undefined,
    );
    const between = (from: string, to: string) => {
      const hourly = shared
        .filter(({ at }) => at >= Date.parse(from) * 1000 && at < Date.parse(to) * 1000)
        .filter((_, row) => row % 60 === 0);
      return correlation(logMoves(hourly.map((row) => row.lamp)), logMoves(hourly.map((row) => row.wool!)));
    };
    expect(between('2025-09-01', '2026-02-01')).toBeGreaterThan(0.6);
    expect(between('2026-02-09', '2026-02-28')).toBeLessThan(0.3);
    expect(between('2026-03-09', '2026-04-25')).toBeGreaterThan(0.5);
  });
});

it('the file with flaws has each of them', () => {
  const lines = flawedFile().trim().split('\n');
  expect(lines[0]).toBe('time,price,size');
  expect(new Set(lines).size).toBeLessThan(lines.length); // repeats
  for (const flaw of [/2026-03-29 01:30/, /n\/a/, /,0\.00,/, /,$/, /2026-04-03/])
    expect(lines.some((line) => flaw.test(line))).toBe(true);
});

describe('memory is found where it was put', () => {
  const hurstOf = (returns: Float64Array, by: string) =>
    evaluate([`hurst(x, ${returns.length} bars, by: ${by})`], {
      time: returns.map((_, i) => i),
      columns: { x: returns },
    })[0].values.at(-1)!;

  const bounds: [number, string, number][] = [0.3, 0.5, 0.7].flatMap((h) => [
    [h, 'dfa', 0.03],
    [h, 'variance', 0.03],
    [h, 'rs', 0.05],
  ]);
  it.each([...bounds, [0.9, 'variance', 0.06] as [number, string, number]])(
    'H = %d by %s over paths of 4,096, within %d',
    (hurst, by, within) => {
      const random = new Random(1729 + hurst * 10);
      const found = Array.from({ length: pathCount(200) }, () => hurstOf(fractionalNoise(4096, hurst, random), by));
      expect(Math.abs(mean(found) - hurst)).toBeLessThan(widened(within, deviation(found), 200));
    },
  );

  it('the daily and minute moves of KELP persist', () => {
    const moves = Float64Array.from(logMoves(columns('KELP_minutes').close));
    expect(hurstOf(moves.slice(-16_384), 'dfa')).toBeGreaterThan(0.58);
  });
});

describe('files that are no prices', () => {
  const files = new Map(demoFiles().map((file) => [file.name, file.text.trimEnd().split('\n')]));
  const valuesOf = (name: string) =>
    files
      .get(name)!
      .slice(1)
      .map((line) => Number(line.split(',').at(-1)));

  it('are the same each time, with a value in each line', () => {
    expect(demoFiles().map(({ text }) => text)).toEqual(demoFiles().map(({ text }) => text));
    for (const name of files.keys()) expect(valuesOf(name).every(Number.isFinite), name).toBe(true);
  });

  it('have the seasons, zeros and signs that they are there for', () => {
    const landings = valuesOf('LANDINGS');
    expect(Math.min(...landings)).toBeGreaterThan(0);
    const aYearLater = landings.slice(12).map(Math.log);
    expect(correlation(landings.slice(0, -12).map(Math.log), aYearLater)).toBeGreaterThan(0.8);
    const air = valuesOf('HARBOUR_AIR');
    expect(Math.min(...air)).toBeLessThan(-5);
    expect(Math.max(...air)).toBeGreaterThan(10);
    const skerries = valuesOf('CALLS').filter((_, line) => line % 3 === 2);
    expect(skerries.filter((count) => count === 0).length).toBeGreaterThan(skerries.length / 3);
    const orders = valuesOf('CHANDLER');
    expect(orders.filter((amount) => amount < 0).length / orders.length).toBeCloseTo(0.08, 1);
    const ids = files.get('CHANDLER')!.map((line) => line.split(',')[1]);
    expect(new Set(ids).size).toBe(ids.length);
  });
});
