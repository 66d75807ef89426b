import type { Limits } from '../limits';
import type { Store } from '../store/store';
import type { Course } from './course';
import type { StoredTape } from '../store/tapeRows';
import type { TapeBars } from './tapeBars';
import type { BarChoice } from './tapeStretches';

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
  /** The bars of a whole tape that it begins with, where it does. */
  bars?: (input: Input) => (BarChoice & { tape: StoredTape }) | undefined;
  /** Whether it is a part of large work, which several servers share where they share a store. */
  isPart?: true;
  /** Whether it writes to the store. */
  writes?: true;
  /** @throws {Refusal} where it is refused; and whatever the course of the work throws */
  run: (input: Input, tools: Tools) => Promise<Uint8Array>;
}
