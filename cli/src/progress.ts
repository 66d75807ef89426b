/** How far the reading of a file is, on standard error where that is a terminal. */
export class Progress {
  private told = 0;
  private isShown = false;

  constructor(private readonly isQuiet: boolean) {}

  /** Hands blocks on, and tells how many there have been. @param size  of all, where it is known */
  async *over(blocks: AsyncIterable<Uint8Array>, size: number | undefined): AsyncGenerator<Uint8Array> {
    let bytes = 0;
    for await (const block of blocks) {
      bytes += block.length;
      this.tell(bytes, size);
      yield block;
    }
    this.clear();
  }

  /** Something that one should know and that is no error. */
  note(text: string): void {
    if (!this.isQuiet) process.stderr.write(`jaunty: ${text}\n`);
  }

  private tell(bytes: number, size: number | undefined): void {
    if (this.isQuiet || !process.stderr.isTTY || Date.now() - this.told < 200) return;
    this.told = Date.now();
    this.isShown = true;
    const megabytes = (bytes / 2 ** 20).toFixed(0);
    const share = size ? `, ${Math.floor((100 * bytes) / size)} %` : '';
    process.stderr.write(`\rreading: ${megabytes} MB${share} `);
  }

  clear(): void {
    if (this.isShown) process.stderr.write('\r\u001b[K');
    this.isShown = false;
  }
}
