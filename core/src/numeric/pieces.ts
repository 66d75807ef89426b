const PIECE_ROWS = 1024;

/** The pieces that `byPieces` goes through, for loops that are to keep their columns in locals of their own. */
export function pieces(from: number, to: number): [number, number][] {
  const all: [number, number][] = [];
  for (let at = from; at < to; at += PIECE_ROWS) all.push([at, Math.min(at + PIECE_ROWS, to)]);
  return all;
}

/**
 * Goes through rows [from, to) of a long column a piece at a time, until `act` gives false.
 *
 * Engines compile a loop that runs long before it ends the first time while it runs, and that code stays slower than that
 * of a loop which has been seen to end: many short ones are up to twice as quick.
 */
export function byPieces(from: number, to: number, act: (from: number, to: number) => boolean | void): boolean {
  for (let at = from; at < to; at += PIECE_ROWS) if (act(at, Math.min(at + PIECE_ROWS, to)) === false) return false;
  return true;
}
