import type { BuiltBars } from './bars.js';
import type { Records } from './records.js';

/** Builds bars from blocks of records in order of time. Cutting in blocks is the same as cutting at once. */
export interface BlockBuilder {
  add(records: Records): void;
  /** How many bars there are so far, with the one that goes on. */
  readonly bars: number;
  /** The bars from a row on, of what has come so far. More may come after it. */
  barsFrom(first: number): BuiltBars;
}
