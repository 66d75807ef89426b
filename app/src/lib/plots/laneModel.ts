import { catalogue, scaleOf, type Unit } from '@jaunty-ledger/core';
import type { LedgerBody, LedgerEntry, LedgerLane } from '$lib/api/ledgers';
import type { Drawn, DrawnColumn, Wrong } from '$lib/compute/protocol';

/** An entry with what its formula gave. */
export interface EntryModel {
  entry: LedgerEntry;
  columns: DrawnColumn[];
  unit: Unit;
  phrase: string;
  looksAhead: boolean;
  /** Whether it is of bars to come. */
  isProjection: boolean;
  /** Rows that it is drawn later than it is worked out on. */
  shift: number;
  /** What is wrong with the formula; its last good columns are drawn no longer. */
  wrong: { message: string; position: number; length: number } | undefined;
}

/** The entries of a lane with their results. */
export function entryModels(lane: LedgerLane, results: ReadonlyMap<string, Drawn | Wrong>): EntryModel[] {
  return lane.entries.map((entry) => {
    const result = results.get(entry.id);
    if (result?.state === 'drawn') {
      const { columns, unit, phrase, looksAhead, ahead } = result;
      const shift = shiftOf(entry, result);
      return { entry, columns, unit, phrase, looksAhead, isProjection: ahead > 0, shift, wrong: undefined };
    }
    const none = { columns: [], unit: 'number', phrase: '', looksAhead: false, isProjection: false } as const;
    return { entry, ...none, columns: [], shift: entry.shift, wrong: result };
  });
}

/** Rows that an entry is drawn later than it is worked out on: as it is displaced, and a projection on bars to come. */
export function shiftOf({ shift }: Pick<LedgerEntry, 'shift'>, result: Drawn | Wrong | undefined): number {
  return shift + (result?.state === 'drawn' ? result.ahead : 0);
}

/** The unit that a lane's scale is in: of its bars, else of its first entry that is drawn. */
export function laneUnit(lane: LedgerLane, entries: readonly EntryModel[]): Unit {
  if (lane.base === 'price') return 'price';
  if (lane.base === 'volume') return 'units';
  return entries.find(({ columns }) => columns.length > 0)?.unit ?? 'number';
}

/**
 * Rows at which a line is short before its first value, as it is drawn; 0 for an entry that has none at all, which is another
 * matter, and for a projection, which begins with the bars to come.
 */
export function rowsShort({ columns, isProjection, shift }: EntryModel): number {
  return isProjection
    ? 0
    : shift + Math.max(0, ...columns.map(({ firstValid, values }) => (firstValid < values.length ? firstValid : 0)));
}

/** What the function says that a formula begins with: its definition, in words and as a formula. */
export function definitionOf(formula: string): string {
  const entry = catalogue.get(/^[A-Za-z_]\w*(?=\s*\()/.exec(formula)?.[0] ?? '');
  return entry ? `${entry.sentence} ${entry.formula}` : '';
}

/** The ink that the fewest entries of a ledger have. */
export function freeInk(body: LedgerBody): number {
  const used = body.lanes.flatMap((lane) => lane.entries.map((entry) => entry.ink));
  const counts = Array.from({ length: 8 }, (_, ink) => used.filter((other) => other === ink).length);
  // the first one is near the ink of rising bars, so it comes last
  const order = [1, 2, 3, 4, 5, 6, 7, 0];
  return order.reduce((best, ink) => (counts[ink] < counts[best] ? ink : best), order[0]);
}

/** Where a new entry goes, and whether it has its own scale there. */
export interface EntryPlace {
  /** Undefined for a new lane. */
  laneId: string | undefined;
  second: boolean;
}

/** The lane that an entry was typed in; its own scale where that of the lane's bars does not fit. */
export function placeIn(body: LedgerBody, laneId: string | undefined, unit: Unit): EntryPlace {
  const lane = body.lanes.find(({ id }) => id === laneId);
  return { laneId: lane?.id, second: lane !== undefined && lane.base !== 'none' && lane.base !== scaleOf(unit) };
}

/** The lane of an entry that was typed in none: over the bars whose scale it shares, else a new one. */
export const placeFor = (body: LedgerBody, unit: Unit): EntryPlace => ({
  laneId: body.lanes.find(({ base }) => base === scaleOf(unit))?.id,
  second: false,
});
