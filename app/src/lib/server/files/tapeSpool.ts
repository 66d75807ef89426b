import { open, rm, type FileHandle } from 'node:fs/promises';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import type { TapeChunk } from '../chunks/tapeChunk';

/** A chunk in memory, or where in the file its bytes are. */
type Spooled = Omit<TapeChunk, 'data'> & ({ data: Uint8Array } | { offset: number; bytes: number });

/** Bytes of a tape that stay in memory: those of some millions of records. */
const BYTES_IN_MEMORY = 32 << 20;

/**
 * Chunks of a tape that is coming in, the first of them in memory, the others in a file beside the store. The store is
 * written only when the tape is whole, so a slow upload holds no lock, and one that fails or is stopped leaves nothing.
 */
export class TapeSpool {
  private chunks: Spooled[] = [];
  private inMemory = 0;
  private offset = 0;

  private constructor(
    private readonly path: string,
    private readonly file: FileHandle,
  ) {}

  static async open(folder: string): Promise<TapeSpool> {
    const spools = spoolFolder(folder);
    mkdirSync(spools, { recursive: true });
    const path = join(spools, `${randomUUID()}.chunks`);
    return new TapeSpool(path, await open(path, 'wx+'));
  }

  async add(whole: TapeChunk): Promise<void> {
    const { data, ...chunk } = whole;
    if (this.inMemory + data.length <= BYTES_IN_MEMORY) {
      this.inMemory += data.length;
      this.chunks.push(whole);
      return;
    }
    await this.file.write(data, 0, data.length, this.offset);
    this.chunks.push({ ...chunk, offset: this.offset, bytes: data.length });
    this.offset += data.length;
  }

  async *read(): AsyncGenerator<TapeChunk> {
    for (const spooled of this.chunks) {
      if ('data' in spooled) {
        yield spooled;
        continue;
      }
      const { offset, bytes, ...chunk } = spooled;
      const data = new Uint8Array(bytes);
      await this.file.read(data, 0, bytes, offset);
      yield { ...chunk, data };
    }
  }

  /** Forgets the chunks so far; further ones are written over them. */
  async restart(): Promise<void> {
    await this.file.truncate();
    this.chunks = [];
    this.inMemory = this.offset = 0;
  }

  async close(): Promise<void> {
    await this.file.close();
    await rm(this.path, { force: true });
  }
}

/** What an import left behind that died with the server. */
export function clearSpools(folder: string): void {
  const spools = spoolFolder(folder);
  mkdirSync(spools, { recursive: true });
  for (const name of readdirSync(spools)) rmSync(join(spools, name));
}

const spoolFolder = (folder: string) => join(folder, 'incoming');
