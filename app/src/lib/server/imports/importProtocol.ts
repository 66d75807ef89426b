import type { Problem } from '$lib/api/problems';
import type { ImportQuery } from '$lib/api/tapes';
import type { Attempt } from '../store/jobs';
import type { ReadingChoices } from '@jaunty-ledger/files/reading/reading';

/** The number of an import: a thread may have several in hand. */
export type ImportId = number;

/**
 * Where the records of a file go: to tapes of their own, to the tape of the name that is there already, or to those of
 * its names that are there and to new ones for the others.
 */
export type Entering = 'new' | 'append' | 'join';

/** What the thread of an import is told first. */
export interface ImportOrder {
  query: ImportQuery;
  /** Choices of the reading: the request's, over those of the profile it names. */
  choices: ReadingChoices;
  /** The instant at which it is entered, in microseconds. */
  now: number;
  entering: Entering;
  /** Tapes by their numbers that whoever sends it may only read. */
  untouchable?: readonly number[];
  /** Whose the new tapes are; nobody's where nobody signs in. */
  owner?: string;
  /** The job that it is, where another server may take it over. */
  job?: Attempt;
}

export type ToImport =
  | { kind: 'begin'; id: ImportId; order: ImportOrder }
  | { kind: 'bytes'; id: ImportId; bytes: Uint8Array<ArrayBuffer> }
  | { kind: 'end'; id: ImportId; bytes: number; sha256: string }
  | { kind: 'stop'; id: ImportId }
  /** Has what others have written to the store brought to its place. */
  | { kind: 'settle' }
  /** Ends all imports, then the thread. */
  | { kind: 'close' };

export type FromImport =
  /** A block was read; its memory goes back where nothing of it is held on to. */
  | { kind: 'taken'; id: ImportId; rows: number; block: ArrayBuffer | undefined }
  | { kind: 'entered'; id: ImportId; names: string[] }
  | { kind: 'failed'; id: ImportId; problem: Problem }
  | { kind: 'stopped'; id: ImportId };
