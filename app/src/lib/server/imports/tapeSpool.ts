import { open, rm, type FileHandle } from 'node:fs/promises';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import type { TapeKind } from '@jaunty-ledger/files/reading/reading';
import type { RecordColumns } from '@jaunty-ledger/files/records/recordColumns';
import { priceColumnOf } from '@jaunty-ledger/files/records/recordReader';
import type { Decimals, RecordKeep } from '@jaunty-ledger/files/records/recordWriter';
import { decodeChunk, encodeChunk, type TapeChunk } from '../chunks/tapeChunk';

/** Bytes of an import's chunks that stay in memory: those of some millions of records. */
const BYTES_IN_MEMORY = 32 << 20;

/**
 * Where the chunks of an import wait until the file is whole: the first of them in memory, the others in one file beside the
 * store. So a slow upload holds nothing of the store, and one that fails or is stopped leaves nothing in it.
 */
export class ImportSpool {
  private file: Promise<FileHandle> | undefined;
  private readonly path: string;
  private inMemory = 0;
  private end = 0;

  constructor(folder: string) {
    mkdirSync(join(folder, SPOOLS), { recursive: true, mode: 0o700 });
    this.path = join(folder, SPOOLS, `${randomUUID()}.chunks`);
  }

  /** A spool for one tape of the import. */
  forTape(kind: TapeKind): TapeSpool {
    return new TapeSpool(this, kind);
  }

  /** Bytes of a chunk that is put by: themselves, or where in the file they are. */
  async put(data: Uint8Array): Promise<Waiting> {
    if (this.inMemory + data.length <= BYTES_IN_MEMORY) {
      this.inMemory += data.length;
      return { data };
    }
    // opened when it is needed: a file may make hundreds of small tapes
    this.file ??= open(this.path, 'wx+', 0o600);
    const offset = this.end;
    this.end += data.length;
    await (await this.file).write(data, 0, data.length, offset);
    return { offset, bytes: data.length };
  }

  async get(waiting: Waiting): Promise<Uint8Array> {
    if ('data' in waiting) return waiting.data;
    const data = new Uint8Array(waiting.bytes);
    await (await this.file!).read(data, 0, waiting.bytes, waiting.offset);
    return data;
  }

  /** What was put by is not wanted any more; only what is in memory gives its room back before the end. */
  forget(waiting: Waiting): void {
    if ('data' in waiting) this.inMemory -= waiting.data.length;
  }

  async close(): Promise<void> {
    if (!this.file) return;
    await (await this.file).close();
    await rm(this.path, { force: true });
  }
}

type Waiting = { data: Uint8Array } | { offset: number; bytes: number };

/** The records of one tape that is coming in, as the chunks that they are stored as. */
export class TapeSpool implements RecordKeep {
  private waiting: (Omit<TapeChunk, 'data'> & { waiting: Waiting })[] = [];

  constructor(
    private readonly spool: ImportSpool,
    private readonly kind: TapeKind,
  ) {}

  async add(columns: RecordColumns): Promise<Decimals> {
    const { decimals, data, ...chunk } = encodeChunk(columns, priceColumnOf(this.kind));
    this.waiting.push({ ...chunk, waiting: await this.spool.put(data) });
    return decimals;
  }

  async *read(): AsyncGenerator<RecordColumns> {
    for await (const chunk of this.chunks()) yield decodeChunk(chunk);
  }

  /** The chunks so far. */
  async *chunks(): AsyncGenerator<TapeChunk> {
    for (const { waiting, ...chunk } of this.waiting) yield { ...chunk, data: await this.spool.get(waiting) };
  }

  /** Forgets the chunks so far. */
  restart(): void {
    for (const { waiting } of this.waiting) this.spool.forget(waiting);
    this.waiting = [];
  }
}

/** Folder of what is on its way into the store. */
export const SPOOLS = 'incoming';

/** Clears away what imports left behind that died with the server. */
export function clearSpools(folder: string): void {
  const spools = join(folder, SPOOLS);
  mkdirSync(spools, { recursive: true, mode: 0o700 });
  for (const name of readdirSync(spools)) rmSync(join(spools, name));
}
