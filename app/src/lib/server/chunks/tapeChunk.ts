import { crc32 } from 'node:zlib';
import { pieces } from '@jaunty-ledger/core';
import { RECORDS_AT_ONCE, type Decimals } from '@jaunty-ledger/files/records/recordWriter';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { decodeColumn, encodeColumn } from './columnCodec';

/** Rows of a chunk: small enough that a range read wastes little, large enough that a chunk's own costs vanish. */
export const CHUNK_ROWS = RECORDS_AT_ONCE;

/** A stretch of a tape as it is stored. */
export interface TapeChunk {
  rows: number;
  firstAt: number;
  lastAt: number;
  /** Least and greatest value of the column that stands for the price. */
  least: number;
  greatest: number;
  checksum: number;
  data: Uint8Array;
}

/*
 * A chunk's bytes: the number of columns, then for each the length of its name, the name, the length of its bytes as
 * four, and the bytes; then the checksum stands beside them in the store.
 */
export function encodeChunk(columns: RecordColumns, priceColumn: string): TapeChunk & { decimals: Decimals } {
  const { time } = columns;
  const decimals: Decimals = {};
  const parts = Object.entries(columns).map(([name, column]) => {
    const encoded = encodeColumn(column);
    decimals[name] = encoded.decimals;
    return { name: new TextEncoder().encode(name), bytes: encoded.bytes };
  });
  const size = parts.reduce((sum, { name, bytes }) => sum + 1 + name.length + 4 + bytes.length, 1);
  const data = new Uint8Array(size);
  const view = new DataView(data.buffer);
  data[0] = parts.length;
  let at = 1;
  for (const { name, bytes } of parts) {
    data[at] = name.length;
    data.set(name, at + 1);
    at += 1 + name.length;
    view.setUint32(at, bytes.length, true);
    data.set(bytes, at + 4);
    at += 4 + bytes.length;
  }
  const [least, greatest] = extentOf(columns[priceColumn]);
  return {
    rows: time.length,
    firstAt: time[0],
    lastAt: time[time.length - 1],
    least,
    greatest,
    checksum: crc32(data),
    data,
    decimals,
  };
}

/** A chunk whose bytes are not the ones that were written. */
export class DamagedChunkError extends Error {
  override readonly name = 'DamagedChunkError';
}

/** Columns that chunks are decoded into one after the other: memory that is taken anew each time is cleared first. */
export class DecodeRoom {
  private readonly columns = new Map<string, Float64Array<ArrayBuffer>>();

  column(name: string, rows: number): Float64Array<ArrayBuffer> {
    const known = this.columns.get(name);
    if (known && known.length >= rows) return known.subarray(0, rows);
    const column = new Float64Array(Math.max(rows, CHUNK_ROWS));
    this.columns.set(name, column);
    return column.subarray(0, rows);
  }
}

/**
 * The columns of a chunk, but for those that are not asked for.
 * @param room  where they go, for whoever has done with a chunk before the next; their own memory if not given
 * @throws {DamagedChunkError} where the bytes do not match their checksum
 */
export function decodeChunk(
  { rows, checksum, data }: Pick<TapeChunk, 'rows' | 'checksum' | 'data'>,
  without: readonly string[] = [],
  room?: DecodeRoom,
): RecordColumns {
  const found = crc32(data);
  if (found !== checksum) throw new DamagedChunkError(`checksum is ${found}, should be ${checksum}`);
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const columns: Record<string, Float64Array> = {};
  let at = 1;
  for (let column = 0; column < data[0]; column++) {
    const nameEnd = at + 1 + data[at];
    const name = new TextDecoder().decode(data.subarray(at + 1, nameEnd));
    const length = view.getUint32(nameEnd, true);
    if (!without.includes(name))
      columns[name] = decodeColumn(data.subarray(nameEnd + 4, nameEnd + 4 + length), rows, room?.column(name, rows));
    at = nameEnd + 4 + length;
  }
  return columns as RecordColumns;
}

function extentOf(column: Float64Array): [number, number] {
  let least = Infinity;
  let greatest = -Infinity;
  for (const [from, to] of pieces(0, column.length)) {
    const [low, high] = extentIn(column, from, to);
    least = Math.min(least, low);
    greatest = Math.max(greatest, high);
  }
  return [least, greatest];
}

/** Least and greatest of some values. */
function extentIn(column: Float64Array, from: number, to: number): [number, number] {
  let least = Infinity;
  let greatest = -Infinity;
  for (let row = from; row < to; row++) {
    const x = column[row];
    if (x < least) least = x;
    if (x > greatest) greatest = x;
  }
  return [least, greatest];
}
