import { z } from 'zod';

/** How many lines a list answers with where the query does not say, and at most. */
export const USUAL_LIMIT = 100;
const MOST_LIMIT = 1000;

/** The query of a list: a stretch of it. Its answer has a `Link` to the next one, and the whole count in `X-Total-Count`. */
export const ListQuery = z.strictObject({
  limit: z.coerce.number().int().min(1).max(MOST_LIMIT).default(USUAL_LIMIT),
  cursor: z.string().max(400).optional().describe('Where the stretch starts, from the `Link` of the one before'),
});

/** The query of a list of documents, the one saved last first. */
export const DocumentsQuery = ListQuery.extend({
  tape: z.string().max(100).optional().describe('Those about this tape'),
  find: z.string().max(120).optional().describe('Those with these words in their title'),
});

/** A stretch of a list as a client reads it. */
export interface ListStretch<Item> {
  items: Item[];
  total: number;
  /** The address of the next stretch; undefined after the last. */
  next?: string;
}
