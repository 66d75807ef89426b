import { createHash } from 'node:crypto';
import { deserialize } from 'node:v8';
import { cutBefore, makeCalendar, parseBarRule, printBarRule, runsOn, type BarStretch } from '@jaunty-ledger/core';
import { calendarOptions } from '$lib/api/tapes';
import type { Limits } from '../limits';
import { stretchBytes } from '../store/barStretches';
import { partsBetween } from '../store/chunks';
import type { Store } from '../store/store';
import type { StoredTape } from '../store/tapeRows';
import type { Range } from './range';

/* Where the bars of a very long tape can be cut apart, so that several servers cut some of them each. */

/** Stretches of a tape at most: there are no more servers that would be free at once. */
const MOST_STRETCHES = 16;

/** Which bars of a tape: its rule, and whether flagged records are in them. */
export interface BarChoice {
  rule: string;
  flagged: boolean;
}

/** Bars that run on over the days are gone through twice, so that a tape has to be so many times longer to gain by it. */
const RUNS_ON_LONGER = 4;

/** Of what is kept: to be raised where it has another form. */
const FORM = 2;

/** A stretch of a tape, and the key that its bars are kept by. */
export interface TapeStretch {
  range: Range;
  key: string;
}

/** The stretches in which bars of a tape are cut; none where it is not long, or its periods are only numbered. */
export async function stretchesOf(
  store: Store,
  tape: StoredTape,
  { rule: text, flagged }: BarChoice,
  { splitRecords }: Pick<Limits, 'splitRecords'>,
): Promise<TapeStretch[]> {
  const rule = parseBarRule(text);
  const count = Math.min(MOST_STRETCHES, Math.floor((2 * tape.rows) / splitRecords));
  const least = splitRecords * (runsOn(rule) ? RUNS_ON_LONGER : 1);
  if (!store.isShared || tape.rows < least || count < 2) return [];
  const calendar = makeCalendar(calendarOptions(tape));
  const parts = await store.read((rows) => partsBetween(rows, tape, -Infinity, Infinity));
  const cuts = new Set<number>();
  let before = 0;
  for (const { rows, firstAt } of parts) {
    // the part with which the next stretch is long enough
    if (before >= (tape.rows * (cuts.size + 1)) / count) {
      const cut = cutBefore(rule, calendar, firstAt);
      if (cut === undefined) return [];
      if (cut > tape.firstAt) cuts.add(cut);
    }
    before += rows;
  }
  if (cuts.size === 0) return [];
  const ends = [-Infinity, ...cuts, Infinity];
  return ends.slice(1).map((to, at) => {
    const range = { from: ends[at], to };
    const facts = [FORM, tape.id, tape.version, printBarRule(rule), flagged, String(range.from), String(to)];
    return { range, key: createHash('sha256').update(JSON.stringify(facts)).digest('hex') };
  });
}

/** Bars of some stretches that were kept. @returns undefined where one is not there */
export async function keptBars(store: Store, stretches: readonly TapeStretch[]): Promise<BarStretch[] | undefined> {
  const found: BarStretch[] = [];
  for (const { key } of stretches) {
    const bytes = await stretchBytes(store, key);
    if (!bytes) return undefined;
    found.push(deserialize(bytes) as BarStretch);
  }
  return found;
}
