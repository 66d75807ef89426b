import { z } from 'zod';
import { TapeKind } from '@jaunty-ledger/files/reading/reading';
import { PRECISIONS } from '@jaunty-ledger/core';

/** A tape as the shelf lists it: what is needed to find one among thousands. */
export const ShelfLine = z.object({
  name: z.string(),
  kind: TapeKind,
  interval: z.string().nullable(),
  rows: z.number().int(),
  from: z.string(),
  to: z.string(),
  precision: z.enum(PRECISIONS),
  note: z.string(),
  calendar: z.string().nullable(),
  tags: z.array(z.string()),
  flagged: z.number().int(),
  /** Lines of its files that were left out. */
  leftOut: z.number().int(),
  /** Records that were out of order in their files. */
  sorted: z.number().int(),
  /** Its small picture, a letter a point; see `pictureOf`. */
  picture: z.string(),
});
export type ShelfLine = z.infer<typeof ShelfLine>;

/** Heights of a small picture. */
const LEVELS = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ';
const MOST_POINTS = 40;

/** Prices as a picture of letters, from `a` for the least to `Z` for the greatest: a few bytes where numbers take many. */
export function pictureOf(prices: readonly number[]): string {
  const known = prices.filter((price) => !Number.isNaN(price));
  if (known.length === 0) return '';
  const [least, greatest] = [Math.min(...known), Math.max(...known)];
  const points = Math.min(MOST_POINTS, known.length);
  const spread = greatest - least || 1;
  return Array.from({ length: points }, (_, at) => {
    const price = known[Math.floor(((at + 1) * known.length) / points) - 1];
    return LEVELS[Math.round(((price - least) / spread) * (LEVELS.length - 1))];
  }).join('');
}

/** The heights that a picture of letters has, from 0 to 51. */
export const levelsOf = (picture: string): number[] => [...picture].map((letter) => LEVELS.indexOf(letter));
