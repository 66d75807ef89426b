import type { Bars, CalendarOptions, Unit, Working } from '@jaunty-ledger/core';
import type { Problem } from '$lib/api/problems';
import type { Words } from '$lib/arrow/table';
import type { Summary } from '$lib/chart/summary';

export type JobId = number;

/** Bars as the page draws them: the columns, and summaries of those that are drawn. */
export interface DrawnBars extends Bars {
  /** The rule in its canonical form. */
  rule: string;
  /** Words of the text columns. */
  words: Words;
  priceSummary: Summary;
  volumeSummary: Summary;
  /** Records with a flag, the first of them: when, and at what price. */
  flaggedTime: Float64Array;
  flaggedPrice: Float64Array;
}

export interface EntryText {
  id: string;
  text: string;
}

/** One line to draw. */
export interface DrawnColumn {
  name: string;
  /** Label of a fan's member; empty where there is no fan. */
  member: string;
  /** Which of several values it is; empty for a function of one. */
  part: string;
  values: Float64Array;
  summary: Summary;
  firstValid: number;
}

/** What became of an entry. `same`: as in the last answer, whose columns still hold. */
export type EntryResult = { id: string } & (
  | { state: 'same' }
  | { state: 'drawn'; unit: Unit; phrase: string; looksAhead: boolean; columns: DrawnColumn[] }
  | { state: 'wrong'; message: string; position: number; length: number }
);

/** All that crosses. Buffers are transferred, not copied: the sender loses them. */
export type ToWorker =
  | {
      kind: 'open';
      job: JobId;
      tape: string;
      rule: string;
      flagged: { shown: boolean; count: number };
      calendar: CalendarOptions;
      /** Names of the tapes on the shelf, whose columns formulas may use. */
      tapes: string[];
    }
  /** Where a thread listens that helps with long work. */
  | { kind: 'help'; job: JobId; port: MessagePort }
  | { kind: 'work'; job: JobId; entries: EntryText[]; id: string; row: number }
  | {
      kind: 'evaluate';
      job: JobId;
      entries: EntryText[];
      stop: SharedArrayBuffer | undefined;
      /** Memory of columns that the page has done with, to be used again: new memory takes as long as to fill it. */
      spare: ArrayBuffer[];
    };

export type FromWorker =
  | { kind: 'opened'; job: JobId; bars: DrawnBars }
  | { kind: 'evaluated'; job: JobId; results: EntryResult[] }
  | { kind: 'worked'; job: JobId; working: Working | undefined }
  /** A later evaluation waits: this one was given up. */
  | { kind: 'stopped'; job: JobId }
  | { kind: 'progress'; job: JobId; share: number }
  | { kind: 'failed'; job: JobId; problem: Problem };
