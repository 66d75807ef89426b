import type { PartRole } from '@jaunty-ledger/core';
import type { Unit } from '@jaunty-ledger/core';
import type { LedgerLane } from '$lib/api/ledgers';
import type { ScaleOptions } from '$lib/chart/priceScale';
import { asRange, extentOf, type Ranged } from '$lib/chart/extent';
import type { DrawnBars } from '$lib/compute/protocol';
import { laneUnit, type EntryModel } from './laneModel';

/** Scales of a lane: the main one, and the second one of entries that have it. */
export interface LaneScale {
  unit: Unit;
  /** Why the scale is not the one that was chosen; empty where it is. */
  why: string;
  extent: [number, number] | undefined;
  second: [number, number] | undefined;
  options: ScaleOptions;
  /** A value as it lies on the scale: itself, or its distance from the base as a share. */
  onScale: (value: number, base: number) => number;
}

/** A lane and what its entries gave. */
interface LaneContent {
  lane: LedgerLane;
  entries: readonly EntryModel[];
}

/** The lanes that have one scale with a lane: itself, those right below that take the scale above them, and those it takes it from. */
export function lanesOfOneScale(lanes: readonly LedgerLane[], lane: LedgerLane): LedgerLane[] {
  let first = lanes.findIndex(({ id }) => id === lane.id);
  while (first > 0 && lanes[first].scale === 'above') first--;
  let end = first + 1;
  while (end < lanes.length && lanes[end].scale === 'above') end++;
  return lanes.slice(first, end);
}

/**
 * Scales for what a lane shows of rows [from, to).
 * A lane in percent counts each of its series from the first value in view.
 * @param shared  the lanes that share its scale, the one that says how it is made first; itself alone without
 */
export function laneScale(
  lane: LedgerLane,
  bars: DrawnBars,
  entries: readonly EntryModel[],
  from: number,
  to: number,
  shared: readonly LaneContent[] = [{ lane, entries }],
): LaneScale {
  const [{ lane: head }] = shared;
  const series = shared.flatMap((one) => seriesOf(one, bars, from, to));
  const own = series.filter((one) => one.laneId === lane.id);
  const why = refusal(head, series);
  const kind = why ? 'fit' : head.scale;
  const isPercent = kind === 'percent';
  const onScale = (value: number, base: number) => (isPercent ? value / base - 1 : value);
  const extents = (isSecond: boolean, of: readonly LaneSeries[]) =>
    united(
      of
        .filter((one) => one.isSecond === isSecond)
        .map(({ extent: [low, high], base }): [number, number] => [onScale(low, base), onScale(high, base)]),
    );
  const standsOnZero = shared.some(({ lane: { base }, entries }) => base === 'volume' || entries.some(isOnZero));
  const isFixed = kind === 'fixed' && head.low !== null && head.high !== null && head.low < head.high;
  return {
    unit: isPercent ? 'fraction' : laneUnit(lane, entries),
    why,
    extent: isFixed ? [head.low!, head.high!] : extents(false, series),
    second: extents(true, own),
    options: {
      fromZero: kind === 'zero' || ((kind === 'fit' || kind === 'above') && standsOnZero),
      log: kind === 'log',
      fixed: isFixed,
    },
    onScale,
  };
}

/** One thing that lanes draw: between which values it lies in view, and its first one there. */
interface LaneSeries {
  laneId: string;
  name: string;
  extent: [number, number];
  base: number;
  isSecond: boolean;
}

function seriesOf({ lane, entries }: LaneContent, bars: DrawnBars, from: number, to: number): LaneSeries[] {
  const series: LaneSeries[] = [];
  const take = (name: string, isSecond: boolean, ranged: Ranged, firstRow: number, lastRow: number) => {
    const extent = extentOf(ranged, Math.max(0, firstRow), Math.min(Math.max(0, lastRow), ranged.high.length));
    if (extent)
      series.push({ laneId: lane.id, name, extent, base: firstValue(ranged.high, firstRow, lastRow), isSecond });
  };
  if (lane.base === 'price') take('the price', false, bars, from, to);
  if (lane.base === 'volume') take('the volume', false, asRange(bars.volume), from, to);
  for (const { entry, columns, shift } of entries) {
    if (entry.hidden) continue;
    for (const { name, values } of columns) take(name, entry.second, asRange(values), from - shift, to - shift);
  }
  return series;
}

/** Why a lane cannot have the scale that was chosen for it; empty where it can. */
function refusal({ scale }: LedgerLane, series: readonly LaneSeries[]): string {
  if (scale === 'percent') {
    const wrong = series.find(({ base }) => !(base > 0));
    return wrong
      ? `Not in percent: ${wrong.name} begins in view with ${wrong.base}, and percent count from a value above 0.`
      : '';
  }
  if (scale !== 'log') return '';
  const wrong = series.find(({ isSecond, extent: [low] }) => !isSecond && !(low > 0));
  return wrong
    ? `Not logarithmic: ${wrong.name} has values down to ${wrong.extent[0]}; logarithms need values above 0.`
    : '';
}

const isOnZero = ({ entry, columns }: EntryModel): boolean =>
  !entry.hidden && !entry.second && columns.some((column) => shapeOf(entry.drawn, column.role) === 'columns');

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
