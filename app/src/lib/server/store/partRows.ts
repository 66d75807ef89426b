import type { TapeChunk } from '../chunks/tapeChunk';

/** Where the bytes of a chunk are. */
export interface ChunkKey {
  generationId: string;
  sequence: number;
}

/** A part of a tape: what its chunk holds, and where that is. */
export interface TapePart extends Omit<TapeChunk, 'checksum' | 'data'> {
  sequence: number;
  chunk: ChunkKey;
}

export interface PartRow {
  generation_id: string;
  sequence: number;
  chunk_generation_id: string;
  chunk_sequence: number;
  rows: number;
  first_at: number;
  last_at: number;
  least: number;
  greatest: number;
}

export interface ChunkRow {
  generation_id: string;
  sequence: number;
  checksum: number;
  data: Buffer;
}
