import type { Ledger } from '$lib/api/ledgers';

/**
 * Ledgers that have all of some words in their title, tape, bars or formulas; those of a tape come first, each part in the
 * order that it had.
 */
export function foundLedgers<Found extends Pick<Ledger, 'title' | 'body'>>(
  ledgers: readonly Found[],
  words: string,
  tape: string,
): { own: Found[]; others: Found[] } {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const textOf = ({ title, body }: Found) =>
    [title, body.tape, body.rule, ...body.lanes.flatMap(({ entries }) => entries.map(({ text }) => text))]
      .join(' ')
      .toLowerCase();
  const found = ledgers.filter((ledger) => {
    const text = textOf(ledger);
    return wanted.every((word) => text.includes(word));
  });
  return {
    own: found.filter(({ body }) => body.tape === tape),
    others: found.filter(({ body }) => body.tape !== tape),
  };
}
