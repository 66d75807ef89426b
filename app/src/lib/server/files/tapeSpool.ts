import { open, rm, type FileHandle } from 'node:fs/promises';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import type { TapeChunk } from '../chunks/tapeChunk';

type Spooled = Omit<TapeChunk, 'data'> & { offset: number; bytes: number };

/**
 * Chunks of a tape that is coming in, in a file beside the store. The store is written only when the tape is whole, so a
 * slow upload holds no lock, and one that fails or is stopped leaves nothing in it.
 */
export class TapeSpool {
  private chunks: Spooled[] = [];
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

  async add({ data, ...chunk }: TapeChunk): Promise<void> {
    await this.file.write(data, 0, data.length, this.offset);
    this.chunks.push({ ...chunk, offset: this.offset, bytes: data.length });
    this.offset += data.length;
  }

  async *read(): AsyncGenerator<TapeChunk> {
    for (const { offset, bytes, ...chunk } of this.chunks) {
      const data = new Uint8Array(bytes);
      await this.file.read(data, 0, bytes, offset);
      yield { ...chunk, data };
    }
  }

  /** Forgets the chunks so far; further ones are written over them. */
  async restart(): Promise<void> {
    await this.file.truncate();
    this.chunks = [];
    this.offset = 0;
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
