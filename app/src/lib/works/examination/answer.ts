import { rfc3339, type Examination } from '@jaunty-ledger/core';
import type { ToldExamination } from './work';
import { figure, figures } from '../figures';

/** Points of a line that are given: more than a page has pixels across. */
const MOST_POINTS = 3000;
/** Points of the normal plot and of the powers. */
export const MOST_MARKS = 400;
/** Turning points that are named. */
const MOST_TURNS = 1000;

/** What rows are put together by. */
export interface Grouping {
  by: string;
  /** A number a row. */
  groups: Float64Array;
  nameOf: (group: number) => string;
}

/** Every so many of some values. */
const everyOf = (values: Float64Array, every: number): Float64Array => values.filter((_, row) => row % every === 0);

/** A line in so many times fewer points: of each two stretches the least and the greatest value, in their order. */
export function outlineOf(values: Float64Array, every: number): Float64Array {
  if (every === 1) return values;
  const out = new Float64Array(Math.ceil(values.length / every)).fill(NaN);
  for (let at = 0; at < out.length; at += 2) {
    let [least, greatest] = [-1, -1];
    for (let row = at * every; row < Math.min(values.length, (at + 2) * every); row++) {
      if (Number.isNaN(values[row])) continue;
      if (least < 0 || values[row] < values[least]) least = row;
      if (greatest < 0 || values[row] > values[greatest]) greatest = row;
    }
    if (least < 0) continue;
    out[at] = values[Math.min(least, greatest)];
    if (at + 1 < out.length) out[at + 1] = values[Math.max(least, greatest)];
  }
  return out;
}

/** An examination as JSON holds it: lines in as many points as are drawn, missing figures as null. */
export function toldExamination(
  { values, summary, normal, memory, cycles, season, groups, turns, hurst, changes, verdicts }: Examination,
  time: Float64Array,
  before: Float64Array,
  grouping: Grouping | undefined,
): Omit<ToldExamination, 'tape' | 'rule' | 'phrase' | 'treatments'> {
  const every = Math.max(1, Math.ceil(time.length / MOST_POINTS));
  const drawn = (column: Float64Array) => figures(outlineOf(column, every));
  const { jarqueBera: _, histogram, quartiles, count, missing, ...rest } = summary;
  const together = Math.max(1, Math.ceil(cycles.power.length / MOST_MARKS));
  const correlations = ({ acf, pacf, band, bartlett, count: valid }: NonNullable<typeof memory>['values']) => ({
    acf: figures(acf),
    pacf: figures(pacf),
    band: figure(band),
    bartlett: figures(bartlett),
    count: valid,
  });
  const turned = (rows: readonly number[], apart: Float64Array) => {
    const sorted = apart.slice().sort();
    const ends = [sorted[0], sorted[sorted.length >> 1], sorted[sorted.length - 1]];
    return { count: rows.length, rows: rows.slice(0, MOST_TURNS), apart: sorted.length > 0 ? ends : [] };
  };
  return {
    rows: time.length,
    every,
    time: Array.from(everyOf(time, every), rfc3339),
    before: drawn(before),
    after: drawn(values),
    summary: {
      ...(Object.fromEntries(Object.entries(rest).map(([name, value]) => [name, figure(value)])) as Record<
        keyof typeof rest,
        number | null
      >),
      least: figure(summary.min),
      greatest: figure(summary.max),
      count,
      missing,
      quartiles: figures(quartiles),
      zeros: values.filter((value) => value === 0).length,
    },
    turns: {
      rows: turns.rows,
      tops: turned(turns.tops, turns.topsApart),
      bottoms: turned(turns.bottoms, turns.bottomsApart),
    },
    histogram: { edges: figures(histogram.edges), counts: figures(histogram.counts) },
    normal: {
      quantiles: figures(normal.quantiles),
      values: figures(normal.values),
    },
    ...(memory && { memory: { values: correlations(memory.values), squares: correlations(memory.squares) } }),
    hurst: hurst.map(({ by, h, error, spread, logSizes, logSpreads, copies }) => ({
      by,
      h: figure(h),
      error: figure(error),
      spread: figure(spread),
      logSizes: figures(logSizes),
      logSpreads: figures(logSpreads),
      copies: {
        low: figure(copies.low),
        high: figure(copies.high),
        lowSpreads: figures(copies.lowSpreads),
        highSpreads: figures(copies.highSpreads),
      },
    })),
    cycles: {
      count: cycles.count,
      filled: cycles.filled,
      power: Array.from({ length: Math.ceil(cycles.power.length / together) }, (_, at) =>
        figure(cycles.power.subarray(at * together, (at + 1) * together).reduce((most, one) => Math.max(most, one), 0)),
      ),
      together,
      peaks: cycles.peaks.map((peak) => ({ ...peak, p: figure(peak.p) })),
    },
    ...(season && {
      season: {
        shape: figures(season.shape),
        trend: drawn(season.trend),
        remainder: drawn(season.remainder),
        strength: { season: figure(season.strength.season), trend: figure(season.strength.trend) },
      },
    }),
    ...(groups &&
      grouping && {
        groups: {
          by: grouping.by,
          without: time.length - groups.reduce((rows, group) => rows + group.count + group.missing, 0),
          list: groups.map(({ group, count: valid, missing: blank, zeros, quartiles: own, ...moments }) => ({
            name: grouping.nameOf(group),
            ...{ count: valid, missing: blank, zeros },
            mean: figure(moments.mean),
            stdev: figure(moments.stdev),
            min: figure(moments.min),
            quartiles: figures(own),
            max: figure(moments.max),
            least: figure(moments.min),
            greatest: figure(moments.max),
          })),
        },
      }),
    changes,
    verdicts: verdicts.map((verdict) => ({
      ...verdict,
      working: verdict.working.map(({ says, value }) => ({ says, value: figure(value) })),
    })),
  };
}
