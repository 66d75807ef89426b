import { createGunzip } from 'node:zlib';
import { Readable } from 'node:stream';
import { Unzip, UnzipInflate } from 'fflate';
import { FileError } from '../fileError.js';
import type { Reading } from '../reading/reading.js';

/** So much of a packed file is unpacked whatever it grows by. */
const FREE_BYTES = 16 << 20;

/** Bounds of what a packed file may unpack to. */
export interface Unpacking {
  /** Times its own size. A file that grows by more is not one of records. */
  growth: number;
  mostBytes: number;
}

type Chunks = AsyncIterable<Uint8Array>;

/** Whether bytes begin a gzip file, or a zip. */
export const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b;
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5);

/** Unpacks a gzipped file, or a zip with one file in it, as it comes; anything else goes through as it is. */
export async function* unpacked(file: Chunks, bounds: Unpacking): AsyncGenerator<Uint8Array> {
  const chunks = file[Symbol.asyncIterator]();
  let first = await chunks.next();
  while (!first.done && first.value.length < 4) {
    const more = await chunks.next();
    if (more.done) break;
    first = { done: false, value: Buffer.concat([first.value, more.value]) };
  }
  if (first.done) return;
  const whole: Chunks = restOf(first.value, chunks);
  if (isGzip(first.value)) yield* limited(whole, gunzipped, bounds);
  else if (isZip(first.value)) yield* limited(whole, unzipped, bounds);
  else yield* whole;
}

async function* restOf(first: Uint8Array, chunks: AsyncIterator<Uint8Array>): AsyncGenerator<Uint8Array> {
  yield first;
  for (let next = await chunks.next(); !next.done; next = await chunks.next()) yield next.value;
}

/** Watches how much comes out for what goes in. @throws {FileError} where that is beyond all measure */
async function* limited(
  packed: Chunks,
  unpack: (packed: Chunks) => AsyncGenerator<Uint8Array>,
  bounds: Unpacking,
): AsyncGenerator<Uint8Array> {
  let bytesIn = 0;
  let bytesOut = 0;
  const counted = async function* () {
    for await (const chunk of packed) {
      bytesIn += chunk.length;
      yield chunk;
    }
  };
  for await (const chunk of unpack(counted())) {
    bytesOut += chunk.length;
    refuseGrowth(bytesIn, bytesOut, bounds);
    yield chunk;
  }
}

/** @throws {FileError} where a packed file unpacks to more than is allowed, or than a file of records would */
export function refuseGrowth(packedBytes: number, bytes: number, { growth, mostBytes }: Unpacking): void {
  if (bytes > mostBytes)
    throw new FileError('too-large', `The file unpacks to more than ${(mostBytes / 2 ** 20).toLocaleString('en')} MB.`);
  if (bytes > FREE_BYTES && bytes > growth * packedBytes)
    throw new FileError(
      'too-large',
      `The packed file grows to more than ${growth} times its size; that is no file of records.`,
    );
}

async function* gunzipped(packed: Chunks): AsyncGenerator<Uint8Array> {
  const stream = Readable.from(packed).pipe(createGunzip());
  try {
    for await (const chunk of stream) yield chunk as Uint8Array;
  } catch (cause) {
    if (cause instanceof Error && 'code' in cause && String(cause.code).startsWith('Z_'))
      throw new FileError('broken-body', 'The gzip file is damaged or breaks off before its end.', { cause });
    throw cause;
  }
}

async function* unzipped(packed: Chunks): AsyncGenerator<Uint8Array> {
  const out: Uint8Array[] = [];
  let files = 0;
  let isDone = false;
  let failure: Error | undefined;
  const unzip = new Unzip((file) => {
    if (file.name.endsWith('/')) return;
    if (++files > 1) return;
    file.ondata = (error, chunk, final) => {
      if (error) failure = error;
      else out.push(chunk);
      isDone ||= final;
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  for await (const chunk of packed) {
    try {
      unzip.push(chunk);
    } catch (cause) {
      failure = cause as Error;
    }
    if (failure) throw new FileError('broken-body', 'The zip file is damaged.', { cause: failure });
    if (files > 1)
      throw new FileError(
        'unreadable-lines',
        'The zip holds more than one file. Unpack it and enter its files one by one.',
      );
    while (out.length > 0) yield out.shift()!;
  }
  if (files === 0) throw new FileError('empty-file', 'The zip holds no file.');
  if (!isDone) throw new FileError('broken-body', 'The zip file breaks off before its end.');
}

/** Text of any encoding as UTF-8, with every line ended by a line feed. */
export async function* asUtf8(chunks: Chunks, encoding: Reading['encoding']): AsyncGenerator<Uint8Array> {
  const toUtf8 = new TextEncoder();
  const decoder = encoding === 'utf-8' ? undefined : new TextDecoder(encoding);
  let loneReturns: boolean | undefined;
  for await (const chunk of chunks) {
    const bytes = decoder ? toUtf8.encode(decoder.decode(chunk, { stream: true })) : chunk;
    // old files end their lines with a return alone: told by the first line end
    loneReturns ??= hasLoneReturns(bytes);
    yield loneReturns ? bytes.map((byte) => (byte === 13 ? 10 : byte)) : bytes;
  }
  const rest = decoder?.decode();
  if (rest) yield toUtf8.encode(rest);
}

function hasLoneReturns(bytes: Uint8Array): boolean | undefined {
  const first = bytes.findIndex((byte) => byte === 13 || byte === 10);
  if (first < 0) return undefined;
  return bytes[first] === 13 && first + 1 < bytes.length && bytes[first + 1] !== 10;
}
