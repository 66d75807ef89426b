import type { RuleSource } from '$lib/api/fittingRule';
import type { Bars, CalendarOptions, Stretch, PartRole, Unit, Working } from '@jaunty-ledger/core';
import type { Problem } from '$lib/api/problems';

/** The number of a question; its answer has the same. */
export type JobId = number;

/** Bars as the page draws them. */
export interface DrawnBars extends Bars {
  /** The rule in its canonical form. */
  rule: string;
  /** Words of the text columns, by column. */
  words: ReadonlyMap<string, readonly string[]>;
  /** Version of the tape that they are of. */
  version: number;
  /** Bars of the tape that lie before the first of these. */
  before: number;
  /** Records with a flag: the bar that each lies in, rising, and its price. */
  flaggedRow: Float64Array;
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
  role: PartRole | undefined;
  values: Float64Array;
  firstValid: number;
}

/** What became of an entry. `same`: as in the last answer, whose columns still hold. */
export type EntryResult = { id: string } & (
  | { state: 'same' }
  | { state: 'drawn'; unit: Unit; phrase: string; looksAhead: boolean; ahead: number; columns: DrawnColumn[] }
  | { state: 'wrong'; message: string; position: number; length: number }
);

/** Rows [from, to). */
export type RowRange = readonly [from: number, to: number];

/** What the columns of a changed entry are on some rows, ahead of all of them: by column, then by range. */
export interface Preview {
  id: string;
  columns: { from: number; values: Float64Array }[][];
}

export type Drawn = Extract<EntryResult, { state: 'drawn' }>;
export type Wrong = Extract<EntryResult, { state: 'wrong' }>;

/** A tape on the shelf, and what its bars have beside the columns of all bars. */
export type ShelfTape = RuleSource & { name: string; valueName?: string | null };

/** Which bars are to be opened. */
export type BarsAsked = Omit<Extract<ToWorker, { kind: 'open' }>, 'kind' | 'job'>;

/** All that crosses. Buffers are transferred, not copied: the sender loses them. */
export type ToWorker =
  | {
      kind: 'open';
      job: JobId;
      tape: string;
      rule: string;
      flagged: { shown: boolean; count: number };
      /** The bars that entries are worked out from; all of them without. */
      alone?: Stretch;
      calendar: CalendarOptions;
      /** The tapes on the shelf, whose columns formulas may use. */
      tapes: ShelfTape[];
    }
  /** A few bars, ahead of all that are opened; nothing is evaluated on them. */
  | { kind: 'glance'; job: JobId; tape: string; rule: string; flagged: boolean; stretch: Stretch }
  /** Bars that have come, or gone on, since those of `bars` were opened; counted, so that an answer tells what it knows of. */
  | { kind: 'grow'; job: JobId; bars: JobId; growth: number; first: number; part: Bars }
  /** Where a thread listens that helps with long work. */
  | { kind: 'help'; job: JobId; port: MessagePort }
  | { kind: 'work'; job: JobId; bars: JobId; entries: EntryText[]; id: string; row: number }
  | {
      kind: 'evaluate';
      job: JobId;
      /** The question that the bars were opened by which the page shows. */
      bars: JobId;
      entries: EntryText[];
      stop: SharedArrayBuffer | undefined;
      /** Memory of columns that the page has done with, to be used again: new memory takes as long as to fill it. */
      spare: ArrayBuffer[];
      /** Rows that are looked at, of which the page would hear first. */
      looked: readonly RowRange[];
    };

export type FromWorker =
  | { kind: 'opened'; job: JobId; bars: DrawnBars }
  | { kind: 'glanced'; job: JobId; bars: DrawnBars }
  /** `growth`: of the bars that it was worked out on. */
  | { kind: 'evaluated'; job: JobId; results: EntryResult[]; growth: number }
  | { kind: 'previewed'; job: JobId; previews: Preview[] }
  | { kind: 'worked'; job: JobId; working: Working | undefined }
  /** Something later took its place: it was given up. */
  | { kind: 'stopped'; job: JobId }
  | { kind: 'progress'; job: JobId; share: number }
  | { kind: 'failed'; job: JobId; problem: Problem };
