import type { StoredTape } from '../store/tapeRows';

/** Instants that a request is about: [from, to). */
export interface Range {
  from: number;
  to: number;
}

export const WHOLE: Range = { from: -Infinity, to: Infinity };

export const isWhole = ({ from, to }: Range): boolean => from === -Infinity && to === Infinity;

/** About how many records of a tape lie in a range, by the share of its span. */
export function recordsInRange(tape: Pick<StoredTape, 'rows' | 'firstAt' | 'lastAt'>, { from, to }: Range): number {
  const span = tape.lastAt - tape.firstAt;
  const within = Math.min(to, tape.lastAt) - Math.max(from, tape.firstAt);
  return span > 0 ? tape.rows * Math.min(1, Math.max(0, within / span)) : tape.rows;
}
