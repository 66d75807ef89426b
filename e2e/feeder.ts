import { request, type ClientRequest } from 'node:http';

/** A line of the answer to a feed. */
interface Answered {
  feeding?: string;
  sequence?: number | null;
  safe?: number;
  repeated?: number;
  late?: { records: number; from: string };
  refused?: number;
  says?: string;
  ended?: { records: number; repeated: number; refused: number };
  problem?: { code: string; detail: string };
}

/** Someone who feeds a tape over HTTP, a line at a time. */
export class Feeder {
  readonly answers: Answered[] = [];
  status = 0;
  /** What goes wrong with the connection. */
  failure: Error | undefined;
  private readonly sent: ClientRequest;
  private wake: () => void = () => undefined;
  private isOver = false;

  constructor(
    origin: string,
    tape: string,
    query = '',
    type = 'application/x-ndjson',
    headers: Record<string, string> = {},
  ) {
    this.sent = request(`${origin}/api/tapes/${tape}/feed${query}`, {
      method: 'POST',
      headers: { 'content-type': type, 'transfer-encoding': 'chunked', ...headers },
    });
    this.sent.on('error', (error) => this.over(error));
    this.sent.on('response', (answer) => {
      this.status = answer.statusCode ?? 0;
      let rest = '';
      answer.setEncoding('utf8');
      answer.on('data', (part: string) => {
        const lines = (rest + part).split('\n');
        rest = lines.pop()!;
        for (const line of lines) this.answers.push(JSON.parse(line) as Answered);
        this.wake();
      });
      answer.on('end', () => {
        if (rest) this.answers.push(JSON.parse(rest) as Answered);
        this.over();
      });
      answer.on('error', (error) => this.over(error));
    });
    this.sent.flushHeaders();
  }

  /** The number of the last record that is safe. */
  get safe(): number {
    return Math.max(-1, ...this.answers.map(({ sequence, safe }) => (safe === undefined ? -1 : (sequence ?? -1))));
  }

  send(records: readonly object[]): void {
    this.sendText(records.map((record) => `${JSON.stringify(record)}\n`).join(''));
  }

  sendText(text: string): void {
    if (!this.isOver) this.sent.write(text);
  }

  async until(isSo: () => boolean): Promise<void> {
    while (!isSo() && !this.isOver) await new Promise<void>((resolve) => (this.wake = resolve));
  }

  /** Ends the feed and waits for the last answer. */
  async end(): Promise<Answered[]> {
    this.sent.end();
    await this.until(() => false);
    return this.answers;
  }

  breakOff(): void {
    this.sent.destroy();
  }

  private over(failure?: Error): void {
    this.isOver = true;
    this.failure ??= failure;
    this.wake();
  }
}
