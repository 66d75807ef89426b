import type { Problem } from '$lib/api/problems';
import type { ImportQuery } from '$lib/api/tapes';
import type { ReadingChoices } from '$lib/api/reading';

/** What the thread of an import is told first. */
export interface ImportOrder {
  folder: string;
  query: ImportQuery;
  /** Choices of the reading: the request's, over those of the profile it names. */
  choices: ReadingChoices;
  /** The instant at which it is entered, in microseconds. */
  now: number;
  /** Whether the records go to the tape of the query's name, which is there already. */
  append: boolean;
}

export type ToImport =
  | { kind: 'begin'; order: ImportOrder }
  | { kind: 'bytes'; bytes: Uint8Array<ArrayBuffer> }
  | { kind: 'end'; bytes: number; sha256: string }
  | { kind: 'stop' };

export type FromImport =
  /** A block was read; its memory goes back where nothing of it is held on to. */
  | { kind: 'taken'; rows: number; block: ArrayBuffer | undefined }
  | { kind: 'entered'; names: string[] }
  | { kind: 'failed'; problem: Problem }
  | { kind: 'stopped' };
