import type { Limits } from '../limits';
import type { Store } from '../store/store';
import type { StoredTape } from '../store/tapes';
import type { Course } from './course';
import type { TapeBars } from './tapeBars';

/** Instants that a request is about: [from, to). */
export interface Range {
  from: number;
  to: number;
}

export const WHOLE: Range = { from: -Infinity, to: Infinity };

export const isWhole = ({ from, to }: Range): boolean => from === -Infinity && to === Infinity;

/** About how many records of a tape lie in a range, by the share of its span. */
export function recordsIn(tape: Pick<StoredTape, 'rows' | 'firstAt' | 'lastAt'>, { from, to }: Range): number {
  const span = tape.lastAt - tape.firstAt;
  const within = Math.min(to, tape.lastAt) - Math.max(from, tape.firstAt);
  return span > 0 ? tape.rows * Math.min(1, Math.max(0, within / span)) : tape.rows;
}

/** What a thread has for its tasks. */
export interface Tools {
  store: Store;
  limits: Limits;
  bars: TapeBars;
  course: Course;
}

/** A kind of work that is done on a thread of the server. */
export interface TaskKind<Input> {
  /**
   * Records that it goes through, or as much other work. What is little is done at once; what is much waits for its turn
   * with its like, so that it keeps nobody else waiting.
   */
  records: (input: Input) => number;
  /** What an answer can be kept by, for whoever asks the same again; it is not kept if not given. */
  answerKey?: (input: Input) => string;
  /** Whether it writes to the store. */
  writes?: true;
  /** @throws {Refusal} where it is refused; and whatever the course of the work throws */
  run: (input: Input, tools: Tools) => Promise<Uint8Array>;
}
