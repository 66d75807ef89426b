import type { Problem } from '$lib/api/problems';
import type { TapeChange } from '$lib/api/tapes';
import type { StoredTape } from '../store/tapes';
import type { TableFormat } from '../files/tableWriter';

/** Instants that a request is about: [from, to). */
export interface Range {
  from: number;
  to: number;
}

/** What a thread of the pool is asked for: bytes of a table, or a change that goes through all records of a tape. */
export type ComputeTask = { tape: StoredTape; range: Range; format: TableFormat } & (
  | { kind: 'bars'; rule: string; flagged: boolean }
  | { kind: 'columns'; rule: string; flagged: boolean; entries: string[]; complete: boolean }
  | { kind: 'summary' }
  | { kind: 'change'; change: TapeChange }
  | { kind: 'records'; limit: number; offset?: number; flagged?: 'only' | 'in-session' }
  | { kind: 'barRecords'; rule: string; flagged: boolean; row: number; limit: number }
);

export type ComputeResult = { body: Uint8Array } | { problem: Problem };
