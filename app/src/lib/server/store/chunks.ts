import type { Store } from './connection';
import type { TapeChunk } from '../chunks/tapeChunk';

interface ChunkRow {
  tape_id: number;
  sequence: number;
  rows: number;
  first_at: number;
  last_at: number;
  least: number;
  greatest: number;
  checksum: number;
  data: Buffer;
}

export async function insertChunk(db: Store, tapeId: number, sequence: number, chunk: TapeChunk): Promise<void> {
  const { rows, firstAt, lastAt, least, greatest, checksum, data } = chunk;
  await db<ChunkRow>('tape_chunk').insert({
    tape_id: tapeId,
    sequence,
    rows,
    first_at: firstAt,
    last_at: lastAt,
    least,
    greatest,
    checksum,
    data: Buffer.from(data.buffer, data.byteOffset, data.byteLength),
  });
}

/** The chunks of a tape that hold records in [from, to), in order, read one at a time. */
export async function* chunksBetween(
  db: Store,
  tapeId: number,
  from: number,
  to: number,
  fromSequence = 0,
): AsyncGenerator<TapeChunk & { sequence: number }> {
  const sequences = await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId })
    .where('sequence', '>=', fromSequence)
    .where('last_at', '>=', from)
    .where('first_at', '<', to)
    .orderBy('sequence')
    .pluck('sequence');
  for (const sequence of sequences) {
    const row = await db<ChunkRow>('tape_chunk').where({ tape_id: tapeId, sequence }).first();
    if (!row) return; // the tape was deleted while it was read
    const { rows, first_at, last_at, least, greatest, checksum, data } = row;
    yield { sequence, rows, firstAt: first_at, lastAt: last_at, least, greatest, checksum, data: bytesOf(data) };
  }
}

/** Where a row lies: the first chunk to read, and the row that it begins with. Past the end, nothing. */
export async function chunkOfRow(
  db: Store,
  tapeId: number,
  row: number,
): Promise<{ sequence: number; firstRow: number } | undefined> {
  let firstRow = 0;
  for (const { sequence, rows } of await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId })
    .orderBy('sequence')
    .select('sequence', 'rows')) {
    if (row < firstRow + rows) return { sequence, firstRow };
    firstRow += rows;
  }
  return undefined;
}

/** Rows of the chunks that lie wholly before an instant. */
export async function rowsInChunksBefore(db: Store, tapeId: number, instant: number): Promise<number> {
  const [found] = await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId })
    .where('last_at', '<', instant)
    .sum({ rows: 'rows' });
  return Number(found?.rows ?? 0);
}

/** Deletes the chunks of a tape from one on; gives the number that the next would have. */
export async function deleteChunksFrom(db: Store, tapeId: number, sequence: number): Promise<number> {
  if (Number.isFinite(sequence))
    await db<ChunkRow>('tape_chunk').where({ tape_id: tapeId }).where('sequence', '>=', sequence).delete();
  const last = await db<ChunkRow>('tape_chunk').where({ tape_id: tapeId }).max({ last: 'sequence' }).first();
  return Number((last as { last: number | null } | undefined)?.last ?? -1) + 1;
}

/** A plain view: a Buffer's `slice` does not copy, which readers of bytes rely on. */
const bytesOf = ({ buffer, byteOffset, byteLength }: Buffer): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
