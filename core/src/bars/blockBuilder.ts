import type { BuiltBars } from './bars.js';
import type { Records } from './records.js';

/** Builds bars from blocks of records in order of time. Cutting in blocks is the same as cutting at once. */
export interface BlockBuilder {
  add(records: Records): void;
  finish(): BuiltBars;
}
