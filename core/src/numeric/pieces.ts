const PIECE_ROWS = 1024;

/**
 * Rows [from, to) of a long column as short pieces, each [first, end).
 *
 * Engines compile a loop that runs long before it ends the first time while it runs, and that code stays slower than that
 * of a loop which has been seen to end: many short ones, each a call of its own, are up to twice as quick.
 */
export function* pieces(from: number, to: number): Generator<[number, number]> {
  for (let at = from; at < to; at += PIECE_ROWS) yield [at, Math.min(at + PIECE_ROWS, to)];
}
