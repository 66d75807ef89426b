import type { Store } from './connection';
import { refuse } from '$lib/api/problems';
import {
  DamagedChunkError,
  decodeChunk,
  type DecodeRoom,
  type RecordColumns,
  type TapeChunk,
} from '../chunks/tapeChunk';

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

/** Chunks of one statement, read or written: each statement costs as much as some ten thousand records. */
const CHUNKS_AT_ONCE = 8;

/** Puts the chunks of a tape into the store, the first of them under a number. */
export async function insertChunks(
  db: Store,
  tapeId: number,
  firstSequence: number,
  chunks: AsyncIterable<TapeChunk> | Iterable<TapeChunk>,
): Promise<void> {
  let sequence = firstSequence;
  let waiting: ChunkRow[] = [];
  const write = async () => {
    if (waiting.length > 0) await db<ChunkRow>('tape_chunk').insert(waiting);
    waiting = [];
  };
  for await (const chunk of chunks) {
    waiting.push(rowOf(tapeId, sequence++, chunk));
    if (waiting.length === CHUNKS_AT_ONCE) await write();
  }
  await write();
}

/** Puts a chunk in the place of another of as many records. */
export async function replaceChunk(db: Store, tapeId: number, sequence: number, chunk: TapeChunk): Promise<void> {
  await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId, sequence })
    .update(rowOf(tapeId, sequence, chunk));
}

/** The chunks of a tape that hold records in [from, to), in order, read a few at a time. */
export async function* chunksBetween(
  db: Store,
  tapeId: number,
  from: number,
  to: number,
  fromSequence = 0,
): AsyncGenerator<TapeChunk & { sequence: number }> {
  const sequences: number[] = await db<ChunkRow>('tape_chunk')
    .where({ tape_id: tapeId })
    .where('sequence', '>=', fromSequence)
    .where('last_at', '>=', from)
    .where('first_at', '<', to)
    .orderBy('sequence')
    .pluck('sequence');
  for (let at = 0; at < sequences.length; at += CHUNKS_AT_ONCE) {
    const wanted = sequences.slice(at, at + CHUNKS_AT_ONCE);
    const found = await db<ChunkRow>('tape_chunk')
      .where({ tape_id: tapeId })
      .whereBetween('sequence', [wanted[0], wanted[wanted.length - 1]])
      .orderBy('sequence');
    for (const { sequence, rows, first_at, last_at, least, greatest, checksum, data } of found)
      yield { sequence, rows, firstAt: first_at, lastAt: last_at, least, greatest, checksum, data: bytesOf(data) };
    if (found.length < wanted.length) return; // the tape was deleted while it was read
  }
}

/** The records of a stored chunk. @throws {Refusal} where it is damaged, with the part of the tape that it is */
export function recordsIn(
  tape: { name: string },
  chunk: TapeChunk & { sequence: number },
  without: readonly string[] = [],
  room?: DecodeRoom,
): RecordColumns {
  try {
    return decodeChunk(chunk, without, room);
  } catch (error) {
    if (!(error instanceof DamagedChunkError)) throw error;
    throw refuse(
      'damaged-tape',
      `Part ${chunk.sequence + 1} of ${tape.name} is damaged (${error.message}). Delete the tape and enter its file again.`,
      {},
      { cause: error },
    );
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

function rowOf(tapeId: number, sequence: number, chunk: TapeChunk): ChunkRow {
  const { rows, firstAt, lastAt, least, greatest, checksum, data } = chunk;
  return {
    tape_id: tapeId,
    sequence,
    rows,
    first_at: firstAt,
    last_at: lastAt,
    least,
    greatest,
    checksum,
    data: Buffer.from(data.buffer, data.byteOffset, data.byteLength),
  };
}

/** A plain view: a Buffer's `slice` does not copy, which readers of bytes rely on. */
const bytesOf = ({ buffer, byteOffset, byteLength }: Buffer): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
