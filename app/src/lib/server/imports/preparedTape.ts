import type { Rows } from '../store/store';

/** A tape whose chunks are in the store already, under a generation that nobody sees. */
export interface PreparedTape {
  name: string;
  /** Shows it. False where somebody else has changed the tape in the meantime; nothing is changed then. */
  enter(rows: Rows): Promise<boolean>;
  /** Has its chunks cleared away. */
  discard(): Promise<void>;
}
