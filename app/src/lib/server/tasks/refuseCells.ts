import { refuse } from '$lib/api/problems';
import type { Limits } from '../limits';

/** @param found  figures of an answer @throws {Refusal} where they are too many */
export function refuseCells(found: number, { cells }: Limits): void {
  if (found > cells)
    throw refuse(
      'too-much-work',
      `The answer would hold ${found.toLocaleString('en')} figures; at most ${cells.toLocaleString('en')} are given at once. Ask for a range, with from and to.`,
    );
}
