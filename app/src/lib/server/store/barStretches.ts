import type { Rows, Store } from './store';

/* Bars that servers have cut for each other, each of a stretch of a tape, until they are old. */

interface StretchRow {
  key: string;
  sequence: number;
  /** Rows of the stretch. */
  of: number;
  made_at: number;
  data: Buffer;
}

const BYTES_OF_ROW = 1 << 20;
const ROWS_AT_ONCE = 8;

/** Keeps the bytes of a stretch; those of two servers that cut the same are the same. @param now  in milliseconds */
export async function keepStretch(store: Store, key: string, bytes: Uint8Array, now: number): Promise<void> {
  const all = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const of = Math.max(1, Math.ceil(all.length / BYTES_OF_ROW));
  for (let first = 0; first < of; first += ROWS_AT_ONCE) {
    const some = Array.from({ length: Math.min(ROWS_AT_ONCE, of - first) }, (_, at): StretchRow => {
      const sequence = first + at;
      const data = all.subarray(sequence * BYTES_OF_ROW, (sequence + 1) * BYTES_OF_ROW);
      return { key, sequence, of, made_at: now, data };
    });
    await store.write(async (rows) => {
      for (const row of some)
        await rows<StretchRow>('bar_stretch').insert(row).onConflict(['key', 'sequence']).ignore();
    });
  }
}

/** Which of some stretches are kept whole. */
export async function keptStretches(rows: Rows, keys: readonly string[]): Promise<Set<string>> {
  const found: { key: string; of: number; count: number | string }[] = await rows<StretchRow>('bar_stretch')
    .whereIn('key', keys as string[])
    .groupBy('key', 'of')
    .select('key', 'of')
    .count({ count: '*' });
  return new Set(found.filter(({ of, count }) => Number(count) === of).map(({ key }) => key));
}

/** The bytes of a stretch. @returns undefined where it is not there whole */
export async function stretchBytes(store: Store, key: string): Promise<Uint8Array | undefined> {
  const parts: Buffer[] = [];
  for (let sequence = 0, of = 1; sequence < of; sequence++) {
    const row = await store.read((rows) =>
      rows<StretchRow>('bar_stretch').where({ key, sequence }).first('of', 'data'),
    );
    if (!row) return undefined;
    of = row.of;
    parts.push(row.data);
  }
  return Buffer.concat(parts);
}

export async function sweepStretches(rows: Rows, before: number): Promise<void> {
  await rows<StretchRow>('bar_stretch').where('made_at', '<', before).delete();
}
