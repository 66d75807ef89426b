import type { Problem } from '$lib/api/problems';
import type { StoredTape } from '../store/tapes';
import type { TableFormat } from '../files/tableWriter';

/** Instants that a request is about: [from, to). */
export interface Range {
  from: number;
  to: number;
}

export type ComputeTask = { tape: StoredTape; range: Range; format: TableFormat } & (
  | { kind: 'bars'; rule: string; flagged: boolean }
  | { kind: 'columns'; rule: string; flagged: boolean; entries: string[]; complete: boolean }
  | { kind: 'summary' }
  | { kind: 'records'; limit: number; offset?: number; flaggedOnly: boolean }
);

export type ComputeResult = { body: Uint8Array } | { problem: Problem };
