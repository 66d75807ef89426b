import type { Knex } from 'knex';
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

export async function insertChunk(db: Knex, tapeId: number, sequence: number, chunk: TapeChunk): Promise<void> {
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
  db: Knex,
  tapeId: number,
  from: number,
  to: number,
): AsyncGenerator<TapeChunk & { sequence: number }> {
  const sequences = await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId })
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

/** A plain view: a Buffer's `slice` does not copy, which readers of bytes rely on. */
const bytesOf = ({ buffer, byteOffset, byteLength }: Buffer): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
