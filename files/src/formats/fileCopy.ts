import { createReadStream } from 'node:fs';
import { open, rm, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';

/** A file that is coming in, laid down for as long as it is read: it can be read again, and from any place. */
export class FileCopy {
  byteLength = 0;

  private constructor(
    private readonly path: string,
    private readonly handle: FileHandle,
  ) {}

  static async open(folder: string): Promise<FileCopy> {
    const path = join(folder, `${randomUUID()}.file`);
    return new FileCopy(path, await open(path, 'wx+', 0o600));
  }

  /** Hands the chunks on, each when it is kept. */
  async *keep(chunks: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
    for await (const chunk of chunks) {
      await this.handle.write(chunk, 0, chunk.length, this.byteLength);
      this.byteLength += chunk.length;
      yield chunk;
    }
  }

  /** The whole file once more, from its beginning. */
  again(): AsyncIterable<Uint8Array> {
    return createReadStream(this.path);
  }

  /** Bytes [from, to). */
  async slice(from: number, to = this.byteLength): Promise<ArrayBuffer> {
    const bytes = new Uint8Array(to - from);
    await this.handle.read(bytes, 0, bytes.length, from);
    return bytes.buffer;
  }

  async close(): Promise<void> {
    await this.handle.close();
    await rm(this.path, { force: true });
  }
}
