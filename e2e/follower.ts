/* Made-up trades, and someone who follows the tape that they are fed to. */

export const START = Date.UTC(2026, 1, 2, 9);

/** So many made-up trades, a few seconds apart; the same for the same seed. */
export function trades(count: number, seed = 1, from = START) {
  let state = seed;
  const random = () => (state = (state * 48271) % 2147483647) / 2147483647;
  let at = from;
  let price = 80;
  return Array.from({ length: count }, (_, seq) => {
    at += Math.floor(random() * 9000);
    price = Math.round(100 * (price + (random() - 0.5) / 5)) / 100;
    return { seq, time: new Date(at).toISOString(), price, size: 1 + Math.floor(random() * 50) };
  });
}
export type Trade = ReturnType<typeof trades>[number];

export const csvOf = (records: readonly Trade[]) =>
  `time,price,size\n${records.map(({ time, price, size }) => `${time},${price},${size}`).join('\n')}\n`;
/** What a follower is told. */
interface Rows {
  version: number;
  rows: number;
  first: number;
  bars: Record<string, (number | string | null)[]>;
  entries: Record<string, (number | null)[]>;
}

/** Someone who follows a tape, and puts together what is told. */
export class Follower {
  readonly columns: Record<string, (number | string | null)[]> = {};
  version = 0;
  events = 0;
  private failure: unknown;
  private readonly left = new AbortController();

  constructor(origin: string, tape: string, query: URLSearchParams, known: Follower | undefined = undefined) {
    if (known) Object.assign(this.columns, structuredClone(known.columns));
    const headers: Record<string, string> = known ? { 'last-event-id': String(known.version) } : {};
    void this.read(`${origin}/api/tapes/${tape}/follow?${query}`, headers);
  }

  private async read(address: string, headers: Record<string, string>): Promise<void> {
    try {
      const answer = await fetch(address, { headers, signal: this.left.signal });
      if (!answer.ok) throw new Error(await answer.text());
      let rest = '';
      for await (const part of answer.body!.pipeThrough(new TextDecoderStream())) {
        const events = (rest + part).split('\n\n');
        rest = events.pop()!;
        for (const event of events) {
          const data = /^data: (.*)$/m.exec(event)?.[1];
          if (data && event.includes('event: problem')) throw new Error(data);
          if (data) this.take(JSON.parse(data) as Rows);
        }
      }
    } catch (error) {
      if (!this.left.signal.aborted) this.failure = error;
    }
  }

  private take({ first, bars, entries, version }: Rows): void {
    this.version = version;
    this.events++;
    for (const [name, rows] of Object.entries({ ...bars, ...entries }))
      (this.columns[name] ??= []).splice(first, Infinity, ...rows);
  }

  async until(version: number): Promise<void> {
    for (let wait = 0; this.version < version; wait++) {
      if (this.failure) throw this.failure;
      if (wait > 400) throw new Error(`told of version ${this.version}, not of ${version}`);
      await new Promise((resolve) => setTimeout(resolve, 25));
    }
  }

  leave(): void {
    this.left.abort();
  }
}
