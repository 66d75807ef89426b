import type { Knex } from 'knex';

/* Lists a stretch at a time: by the sort keys of the row that the last stretch ended with, so that none is counted through. */

export interface ListRange {
  limit: number;
  /** The sort keys that the last stretch ended with; the first stretch without. */
  after?: readonly (string | number)[];
}

export interface ListPage<Item> {
  items: Item[];
  /** How many there are in all. */
  total: number;
  /** The sort keys that the next stretch starts after; undefined where this is the last. */
  next?: (string | number)[];
}

/** A pattern for `like … escape '\\'`: texts in lower case with some words in them. */
export const containing = (words: string): string => `%${words.toLowerCase().replaceAll(/[\\%_]/g, '\\$&')}%`;

/**
 * Reads a stretch of what a query finds.
 * @param keys   columns with the name of their table, which tell all rows apart; sorted by in this order
 */
export async function pageOf<Row extends object>(
  query: Knex.QueryBuilder<Row, Row[]>,
  { limit, after }: ListRange,
  keys: readonly string[],
  order: 'asc' | 'desc' = 'desc',
): Promise<ListPage<Row>> {
  const counted = query.clone().clearSelect().count({ count: '*' }) as unknown as Promise<{ count: number | string }[]>;
  const compared = order === 'desc' ? '<' : '>';
  const stretch = query
    .clone()
    .orderBy(keys.map((column) => ({ column, order })))
    .limit(limit + 1);
  if (after)
    void stretch.whereRaw(`(${keys.map(() => '??').join(', ')}) ${compared} (${keys.map(() => '?').join(', ')})`, [
      ...keys,
      ...after,
    ]);
  const [[{ count }], found] = [await counted, (await stretch) as Row[]];
  const items = found.slice(0, limit);
  const last = items.at(-1) as Record<string, string | number> | undefined;
  const next = found.length > limit && last ? keys.map((key) => last[key.slice(key.indexOf('.') + 1)]) : undefined;
  return { items, total: Number(count), ...(next && { next }) };
}
