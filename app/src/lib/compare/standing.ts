import { isThere } from '$lib/pictures/lines';

/** A line on a scale of its own. */
interface Scaled {
  values: Float64Array;
  factor: number;
}

/** Rows that are looked at, evenly over those in view. */
const MOST_LOOKED_AT = 400;

/** How a line stands to another over some rows, in a few words: `steadily below, rising`. */
export function standingOf(line: Scaled, other: Scaled, from: number, to: number): string {
  const gaps: number[] = [];
  const step = Math.max(1, Math.ceil((to - from) / MOST_LOOKED_AT));
  // the last row is among them
  for (let row = to - 1 - step * Math.floor((to - 1 - from) / step); row < to; row += step) {
    const gap = line.values[row] * line.factor - other.values[row] * other.factor;
    if (isThere(gap)) gaps.push(gap);
  }
  if (gaps.length < 4) return '';
  const last = gaps[gaps.length - 1];
  const spread =
    gaps.reduce((most, gap) => Math.max(most, gap), -Infinity) -
    gaps.reduce((least, gap) => Math.min(least, gap), Infinity);
  if (spread === 0) return last === 0 ? 'the average itself' : last > 0 ? 'above' : 'below';
  if (Math.abs(last) < 0.03 * spread) return `at it, ${moving(gaps, spread)}`;
  const isAbove = last > 0;
  const alike = gaps.filter((gap) => gap > 0 === isAbove).length / gaps.length;
  const side = isAbove ? 'above' : 'below';
  return `${alike >= 0.9 ? `steadily ${side}` : side}, ${moving(gaps, spread)}`;
}

/** Where the last quarter of the rows went, held against all of their range. */
function moving(gaps: readonly number[], spread: number): string {
  const move = gaps[gaps.length - 1] - gaps[Math.floor((gaps.length - 1) * 0.75)];
  if (Math.abs(move) < 0.1 * spread) return 'level';
  return move > 0 ? 'rising' : 'falling';
}

/** Places for texts beside values, at least so far apart and within a height, in the order of the values. */
export function spreadOut(places: readonly number[], apart: number, height: number): number[] {
  const order = places.map((place, at) => ({ place, at })).sort((a, b) => a.place - b.place);
  let last = -Infinity;
  for (const one of order) last = one.place = Math.max(one.place, last + apart);
  // what was pushed over the foot goes back up
  let next = height;
  for (const one of [...order].reverse()) {
    one.place = Math.min(one.place, next);
    next = one.place - apart;
  }
  const out = [...places];
  for (const { place, at } of order) out[at] = place;
  return out;
}
