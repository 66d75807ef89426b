import type { ImportQuery } from '$lib/api/tapes';
import type { Problem } from '$lib/api/problems';

/** What the thread of an import is started with. */
export interface ImportOrder {
  folder: string;
  query: ImportQuery;
  /** When it is entered, RFC 3339. */
  now: string;
}

export type ToImport = { kind: 'bytes'; bytes: Uint8Array } | { kind: 'end' } | { kind: 'stop' };

export type FromImport =
  | { kind: 'taken'; rows: number }
  | { kind: 'entered'; name: string }
  | { kind: 'failed'; problem: Problem }
  | { kind: 'stopped' };
