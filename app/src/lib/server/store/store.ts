import type { Knex } from 'knex';
import { refuse, Refusal } from '$lib/api/problems';

/** The tables of the store, within one read or one write. What they are made of stays in this folder. */
export type Rows = Knex;

/** Narrows a query to the rows that are wanted. */
export type Wanted = Knex.QueryCallback;

/** Where tapes and ledgers are kept. */
export interface Store {
  /** Whether other servers work with it too. */
  readonly isShared: boolean;
  /** Whether the last write found room, on this thread or on another one; reads go on without. */
  hasRoom: boolean;
  /** Reads; `work` may be called more than once. Each statement sees what was written before it; records of a tape do not change under its generation. */
  read<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result>;
  /**
   * Reads as of one moment: all statements see the same state, whatever others write meanwhile. Writers do not wait for it;
   * a long one keeps old states from being cleared away.
   */
  snapshot<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result>;
  /**
   * Reads what never changes once it is written, such as chunks. A copy of the store may answer, which lags: what it lacks is
   * there for `read`.
   */
  readLasting<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result>;
  /**
   * Writes all of something, or nothing. What it reads first still holds when it writes. It waits for its turn, or begins
   * anew, without keeping the thread from other work: `work` may be called more than once.
   * @throws {Refusal} where the store is full, cannot be reached, or has been busy for too long
   */
  write<Result>(work: (rows: Rows) => Promise<Result>): Promise<Result>;
  /**
   * Brings what was written to its place, as far as no reader stands in the way. It takes the thread for as long as that
   * takes, after large changes a second or more: never on the thread that answers.
   */
  settle(): Promise<void>;
  close(): Promise<void>;
}

/** A row of the same key is there already. */
export class KeyTakenError extends Error {
  override readonly name = 'KeyTakenError';
}

export const storeFull = (cause: unknown): Refusal =>
  refuse(
    'store-failed',
    'The disk of the database is full. Nothing was changed; free some space and try again.',
    {},
    { cause },
  );

export const storeAway = (cause: unknown): Refusal =>
  refuse('store-busy', 'The database cannot be reached at the moment. Nothing was changed; try again.', {}, { cause });

/** A write of which one cannot tell whether it was kept. */
export const storeBrokeOff = (cause: unknown): Refusal =>
  refuse(
    'store-busy',
    'The connection to the database was lost during a change. Check whether the change was saved, and retry if not.',
    {},
    { cause },
  );

/** Whether a write failed for want of room. */
export const isStoreFull = (error: unknown): boolean =>
  error instanceof Refusal && error.problem.code === 'store-failed';

export const storeBusy = (cause: unknown): Refusal =>
  refuse(
    'store-busy',
    'The store was busy with other changes for too long. Nothing was changed; try again.',
    {},
    { cause },
  );
