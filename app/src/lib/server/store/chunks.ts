import { refuse } from '$lib/api/problems';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { DamagedChunkError, decodeChunk, type DecodeRoom, type TapeChunk } from '../chunks/tapeChunk';
import type { ChunkRow, PartRow, TapePart } from './partRows';
import type { Rows, Store } from './store';
import type { StoredTape } from './tapeRows';

/** Chunks of one statement: each costs as much as some ten thousand records. */
const CHUNKS_AT_ONCE = 8;

type Source = Pick<StoredTape, 'name' | 'generationId' | 'parts'>;

/** The rows of the parts that are a tape's: a generation that is fed may have more by now. */
function partRowsOf(rows: Rows, { generationId, parts }: Source) {
  const all = rows<PartRow>('tape_part').where({ generation_id: generationId });
  return parts === null ? all : all.where('sequence', '<', parts);
}

/** The parts of a tape that hold records in [from, to), in order. */
export async function partsBetween(
  rows: Rows,
  tape: Source,
  from: number,
  to: number,
  fromSequence = 0,
): Promise<TapePart[]> {
  if (fromSequence === Infinity) return []; // behind the last one
  const found = await partRowsOf(rows, tape)
    .where('sequence', '>=', fromSequence)
    .where('last_at', '>=', from)
    .where('first_at', '<', to)
    .orderBy('sequence');
  return found.map(toPart);
}

/** A part with its chunk. */
type StoredChunk = TapePart & Pick<TapeChunk, 'checksum' | 'data'>;

/**
 * The chunks of a tape that hold records in [from, to), in order, read a few at a time.
 * @throws {Refusal} where the tape has gone in the meantime
 */
export async function* chunksBetween(
  store: Pick<Store, 'read' | 'readLasting'>,
  tape: Source,
  from: number,
  to: number,
  fromSequence = 0,
): AsyncGenerator<StoredChunk> {
  const parts = await store.read(async (rows) => {
    const found = await partsBetween(rows, tape, from, to, fromSequence);
    if (tape.generationId === '') return []; // it has no records yet
    // none may be in the range, or none be there any more
    if (found.length === 0 && !(await rows('generation').where({ id: tape.generationId }).first('id')))
      throw changedMeanwhile(tape);
    return found;
  });
  for (let at = 0; at < parts.length; at += CHUNKS_AT_ONCE)
    yield* await chunksOf(store, tape, parts.slice(at, at + CHUNKS_AT_ONCE));
}

const changedMeanwhile = ({ name }: { name: string }) =>
  refuse('tape-changed', `${name} was changed or deleted while it was read. Ask again.`);

async function chunksOf(
  store: Pick<Store, 'read' | 'readLasting'>,
  { name }: Source,
  parts: readonly TapePart[],
): Promise<StoredChunk[]> {
  // a copy of the store may not have the latest of them yet
  const some = await store.readLasting((rows) => foundChunks(rows, parts));
  const found = some.size === parts.length ? some : await store.read((rows) => foundChunks(rows, parts));
  return parts.map((part) => {
    const chunk = found.get(keyOf(part.chunk));
    if (!chunk) throw changedMeanwhile({ name });
    return { ...part, checksum: Number(chunk.checksum), data: bytesOf(chunk.data) };
  });
}

const keyOf = ({ generationId, sequence }: TapePart['chunk']): string => `${generationId} ${sequence}`;

/** The chunks of some parts, by their keys. */
async function foundChunks(rows: Rows, parts: readonly TapePart[]): Promise<Map<string, ChunkRow>> {
  const found = new Map<string, ChunkRow>();
  for (const generationId of new Set(parts.map(({ chunk }) => chunk.generationId))) {
    const sequences = parts.filter(({ chunk }) => chunk.generationId === generationId);
    const chunks = await rows<ChunkRow>('chunk')
      .where({ generation_id: generationId })
      .whereIn(
        'sequence',
        sequences.map(({ chunk }) => chunk.sequence),
      );
    for (const chunk of chunks) found.set(keyOf({ generationId, sequence: chunk.sequence }), chunk);
  }
  return found;
}

/** The records of a stored chunk. @throws {Refusal} where it is damaged, with the part of the tape that it is */
export function recordsIn(
  tape: { name: string },
  chunk: StoredChunk,
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

/** Where a row lies: the first part to read, and the row that it begins with. Past the end, nothing. */
export async function partOfRow(
  rows: Rows,
  tape: Source,
  row: number,
): Promise<{ sequence: number; firstRow: number } | undefined> {
  let firstRow = 0;
  for (const part of await partRowsOf(rows, tape).orderBy('sequence').select('sequence', 'rows')) {
    if (row < firstRow + part.rows) return { sequence: part.sequence, firstRow };
    firstRow += part.rows;
  }
  return undefined;
}

/** Rows of the parts that lie wholly before an instant. */
export async function rowsBefore(rows: Rows, tape: Source, instant: number): Promise<number> {
  const [found] = await partRowsOf(rows, tape).where('last_at', '<', instant).sum({ rows: 'rows' });
  return Number(found?.rows ?? 0);
}

const toPart = (row: PartRow): TapePart => ({
  sequence: row.sequence,
  chunk: { generationId: row.chunk_generation_id, sequence: row.chunk_sequence },
  rows: row.rows,
  firstAt: row.first_at,
  lastAt: row.last_at,
  least: row.least,
  greatest: row.greatest,
});

/** A plain view: a Buffer's `slice` does not copy, which readers of bytes rely on. */
const bytesOf = ({ buffer, byteOffset, byteLength }: Buffer): Uint8Array =>
  new Uint8Array(buffer, byteOffset, byteLength);
