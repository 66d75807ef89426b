import type { PartRole } from '@jaunty-ledger/core';
import type { Unit } from '@jaunty-ledger/core';
import type { LedgerLane } from '$lib/api/ledgers';
import type { ScaleOptions } from '$lib/chart/priceScale';
import { asRange, extentOf, type Ranged } from '$lib/chart/extent';
import type { DrawnBars } from '$lib/compute/protocol';
import { laneUnit, type EntryModel } from './laneModel';

/** One thing that a lane draws, with the value that stands for 0 % where its scale is in percent. */
export interface Series {
  ranged: Ranged;
  base: number;
}

/** Scales of a lane: the main one, and the second one of entries that have it. */
export interface LaneScale {
  unit: Unit;
  extent: [number, number] | undefined;
  second: [number, number] | undefined;
  options: ScaleOptions;
  /** A value as it lies on the scale: itself, or its distance from the base as a share. */
  onScale: (value: number, base: number) => number;
}

/**
 * Scales for what a lane shows of rows [from, to).
 * A lane in percent counts each of its series from the first value in view.
 */
export function laneScale(
  lane: LedgerLane,
  bars: DrawnBars,
  entries: readonly EntryModel[],
  from: number,
  to: number,
): LaneScale {
  const isPercent = lane.scale === 'percent';
  const onScale = (value: number, base: number) => (isPercent ? value / base - 1 : value);
  const extents: Record<'main' | 'second', [number, number][]> = { main: [], second: [] };
  const take = (scale: 'main' | 'second', ranged: Ranged, firstRow: number, lastRow: number) => {
    const extent = extentOf(ranged, Math.max(0, firstRow), Math.min(Math.max(0, lastRow), ranged.high.length));
    const base = firstValue(ranged.high, firstRow, lastRow);
    if (extent) extents[scale].push([onScale(extent[0], base), onScale(extent[1], base)]);
  };
  if (lane.base === 'price') take('main', bars, from, to);
  if (lane.base === 'volume') take('main', asRange(bars.volume), from, to);
  for (const { entry, columns } of entries) {
    if (entry.hidden) continue;
    for (const { values } of columns)
      take(entry.second ? 'second' : 'main', asRange(values), from - entry.shift, to - entry.shift);
  }
  const standsOnZero = entries.some(
    ({ entry, columns }) =>
      !entry.hidden && !entry.second && columns.some((column) => shapeOf(entry.drawn, column.role) === 'columns'),
  );
  const whole = united(extents.main);
  const isFixed = lane.scale === 'fixed' && lane.low !== null && lane.high !== null && lane.low < lane.high;
  return {
    unit: isPercent ? 'fraction' : laneUnit(lane, entries),
    extent: isFixed ? [lane.low!, lane.high!] : whole,
    second: united(extents.second),
    options: {
      fromZero: lane.scale === 'zero' || (lane.scale === 'fit' && (lane.base === 'volume' || standsOnZero)),
      log: lane.scale === 'log',
      fixed: isFixed,
    },
    onScale,
  };
}

/** The first value of a column in view: what percent are counted from. */
export function firstValue(column: Float64Array, from: number, to: number): number {
  for (let row = Math.max(0, from); row < Math.min(to, column.length); row++)
    if (!Number.isNaN(column[row])) return column[row];
  return NaN;
}

/** The shape that a value of an entry is drawn in; a difference beside its lines stands on zero. */
export const shapeOf = (drawn: LedgerLane['entries'][number]['drawn'], role: PartRole | undefined) =>
  role === 'difference' && drawn === 'line' ? 'columns' : drawn;

/** Whether a line is too flat to be read on the scale of its lane: less than a twentieth of the height. */
export function isFlat(model: EntryModel, scale: LaneScale, from: number, to: number): boolean {
  if (!scale.extent || model.entry.second || model.entry.hidden || model.columns.length === 0) return false;
  const own = united(
    model.columns.flatMap(({ values }) => {
      const extent = extentOf(asRange(values), from, to);
      return extent ? [extent] : [];
    }),
  );
  const height = scale.extent[1] - scale.extent[0];
  return own !== undefined && own[1] > own[0] && height > 0 && (own[1] - own[0]) / height < 0.05;
}

function united(extents: readonly [number, number][]): [number, number] | undefined {
  if (extents.length === 0) return undefined;
  return [Math.min(...extents.map(([low]) => low)), Math.max(...extents.map(([, high]) => high))];
}
