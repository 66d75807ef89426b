import { randomUUID } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import { refuse } from '$lib/api/problems';
import type { TapeChunk } from '../chunks/tapeChunk';
import type { ChunkRow, PartRow, TapePart } from './partRows';
import type { Rows, Store } from './store';

/*
 * The records of a tape lie in chunks under a generation, which nobody sees until the row of a tape points at it. Parts of a
 * generation never change. Whoever changes a tape makes another one beside it and, in one short write, lets the tape point
 * there; the chunks of parts that stay as they were are shared. A generation that is fed gets further parts at its end, and
 * the tape's row says how many are its own: whoever has read the row before does not see them.
 */

interface GenerationRow {
  id: string;
  state: 'making' | 'current' | 'retired';
  at: number;
}

/** Bytes that one write takes at most: the store is held for so long as they take, some hundredths of a second. */
const BYTES_AT_ONCE = 8 << 20;
/** Between two writes others get their turn. */
const PAUSE_MS = 4;
/** Chunks that one write clears away. */
const CLEARED_AT_ONCE = 64;
/** Parts that are written at once. */
const PARTS_AT_ONCE = 1000;
/** Lengths in which lists are inserted, the longest first: few, since each is a statement of its own, which is kept. */
const LENGTHS = [256, 64, 16, 4, 1];

/** Writes a generation, a few chunks at a time. */
export class GenerationWriter {
  readonly id = randomUUID();
  private sequence = 0;
  private isBegun = false;
  private chunks: ChunkRow[] = [];
  private parts: PartRow[] = [];
  private waitingBytes = 0;

  /** @param now  the instant, in microseconds */
  constructor(
    private readonly store: Store,
    private readonly now: number,
  ) {}

  /** Adds a part with a chunk of its own. */
  async add({ checksum, data, ...part }: TapeChunk): Promise<void> {
    const key = { generationId: this.id, sequence: this.sequence };
    const { buffer, byteOffset, byteLength } = data;
    this.chunks.push({
      generation_id: this.id,
      sequence: this.sequence,
      checksum,
      data: Buffer.from(buffer, byteOffset, byteLength),
    });
    this.note({ ...part, chunk: key });
    this.waitingBytes += byteLength;
    if (this.waitingBytes >= BYTES_AT_ONCE) await this.writeWaiting();
  }

  /** Adds a part as it is, with its chunk of an earlier generation. */
  async keep(part: Omit<TapePart, 'sequence'>): Promise<void> {
    this.note(part);
    if (this.parts.length >= PARTS_AT_ONCE) await this.writeWaiting();
  }

  /** How many parts there are. */
  get count(): number {
    return this.sequence;
  }

  /** After this the generation is whole, and a tape may point at it. */
  async finish(): Promise<void> {
    await this.writeWaiting();
  }

  /** Clears away what was written, where no tape points at it. */
  async discard(): Promise<void> {
    if (this.isBegun) await clearGeneration(this.store, this.id);
  }

  private note(part: Omit<TapePart, 'sequence'>): void {
    this.parts.push(partRow(this.id, { ...part, sequence: this.sequence++ }));
  }

  private async writeWaiting(): Promise<void> {
    const { chunks, parts, isBegun, id, now } = this;
    if (isBegun) await setTimeout(PAUSE_MS);
    // chunks may lie on other databases, which keep them even where this one fails: what is begun is found, and cleared away
    else await this.store.write((rows) => rows<GenerationRow>('generation').insert({ id, state: 'making', at: now }));
    this.isBegun = true;
    await this.store.write(async (rows) => {
      // other servers clear away one that is not written on for long
      if (isBegun)
        await rows<GenerationRow>('generation')
          .where({ id })
          .update({ at: Date.now() * 1000 });
      // some may be there from an attempt that failed
      const sequences = chunks.map(({ sequence }) => sequence);
      await rows<ChunkRow>('chunk').where({ generation_id: id }).whereIn('sequence', sequences).delete();
      await insertAll(rows, 'chunk', chunks);
      await insertAll(rows, 'tape_part', parts);
    });
    this.chunks = [];
    this.parts = [];
    this.waitingBytes = 0;
  }
}

const partRow = (id: string, { chunk, sequence, rows, firstAt, lastAt, least, greatest }: TapePart): PartRow => ({
  generation_id: id,
  sequence,
  chunk_generation_id: chunk.generationId,
  chunk_sequence: chunk.sequence,
  rows,
  first_at: firstAt,
  last_at: lastAt,
  least,
  greatest,
});

/** Adds a part at the end of a generation that is fed. Within the write that lets the tape count it. */
export async function addPart(rows: Rows, id: string, sequence: number, chunk: TapeChunk): Promise<void> {
  const { checksum, data, ...part } = chunk;
  const { buffer, byteOffset, byteLength } = data;
  const key = { generation_id: id, sequence };
  await rows<ChunkRow>('chunk').where(key).delete(); // one may be there from an attempt that failed
  await rows<ChunkRow>('chunk').insert({ ...key, checksum, data: Buffer.from(buffer, byteOffset, byteLength) });
  await rows('tape_part').insert(partRow(id, { ...part, sequence, chunk: { generationId: id, sequence } }));
}

async function insertAll(rows: Rows, table: string, list: readonly object[]): Promise<void> {
  let from = 0;
  for (const length of LENGTHS)
    for (; from + length <= list.length; from += length) await rows(table).insert(list.slice(from, from + length));
}

/** Marks a generation that a tape points at. Within the write that lets it. @throws {Refusal} where it was swept away */
export async function makeCurrent(rows: Rows, id: string): Promise<void> {
  if (id === '') return; // a tape that has no records yet
  const marked = await rows<GenerationRow>('generation').where({ id }).update({ state: 'current' });
  if (marked === 0) throw refuse('store-busy', 'The change took so long that another server gave it up. Try again.');
}

/** Marks one that no tape points at any more; whoever reads it has some time to finish. */
export async function retire(rows: Rows, id: string, now: number): Promise<void> {
  await rows<GenerationRow>('generation').where({ id }).update({ state: 'retired', at: now });
}

/**
 * Clears away the generations that were retired before an instant; on request also those that are not whole and were not
 * written on since another one, which only the dead leave behind.
 */
export async function sweepGenerations(store: Store, before: number, unfinishedBefore?: number): Promise<void> {
  const ids: string[] = await store.read((rows) =>
    rows<GenerationRow>('generation')
      .where((which) => {
        void which.where('state', 'retired').where('at', '<', before);
        if (unfinishedBefore !== undefined)
          void which.orWhere((one) => void one.where('state', 'making').where('at', '<', unfinishedBefore));
      })
      .pluck('id'),
  );
  for (const id of ids) await clearGeneration(store, id);
}

/**
 * Clears away a generation, and the chunks that no other one shares; those that are shared go with the last that has them.
 * The chunks go first: where that breaks off, the parts still tell what is left to do.
 */
async function clearGeneration(store: Store, id: string): Promise<void> {
  const chunks: Pick<PartRow, 'chunk_generation_id' | 'chunk_sequence'>[] = await store.read((rows) =>
    rows<PartRow>('tape_part').where({ generation_id: id }).select('chunk_generation_id', 'chunk_sequence'),
  );
  for (let at = 0; at < chunks.length; at += CLEARED_AT_ONCE) {
    if (at > 0) await setTimeout(PAUSE_MS);
    await store.write(async (rows) => {
      for (const { chunk_generation_id, chunk_sequence } of chunks.slice(at, at + CLEARED_AT_ONCE)) {
        const shared = rows<PartRow>('tape_part').where({ chunk_generation_id, chunk_sequence });
        if (await shared.whereNot({ generation_id: id }).first('sequence')) continue;
        await rows<ChunkRow>('chunk').where({ generation_id: chunk_generation_id, sequence: chunk_sequence }).delete();
      }
    });
  }
  await store.write(async (rows) => {
    // those of an attempt that failed have no part
    const used = rows<PartRow>('tape_part').where({ chunk_generation_id: id }).whereNot({ generation_id: id });
    await rows<ChunkRow>('chunk')
      .where({ generation_id: id })
      .whereNotIn('sequence', used.select('chunk_sequence'))
      .delete();
    await rows<PartRow>('tape_part').where({ generation_id: id }).delete();
    await rows<GenerationRow>('generation').where({ id }).delete();
  });
}
