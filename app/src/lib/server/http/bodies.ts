import { refuse, type Refusal } from '$lib/api/problems';
import { log } from '../log';

/** A sender that was refused is heard out so long, so that it hears the answer; and so much of what it sends. */
const DRAINED_MS = 30_000;
const DRAINED_BYTES = 256 << 20;

interface BodyLimits {
  mostBytes: number;
  /** The longest time in which nothing comes. */
  silenceMs: number;
}

/** The body of a request as it comes. It can be read once. */
export class RequestBody implements AsyncIterable<Uint8Array> {
  private readonly reader: ReadableStreamDefaultReader<Uint8Array> | undefined;
  private readonly declaredBytes: number;
  private isGivenUp = false;
  /** Ends the wait for a further block, while there is one. */
  private giveUpWaiting = () => {};

  constructor(
    request: Request,
    private readonly limits: BodyLimits,
  ) {
    this.reader = request.body?.getReader();
    this.declaredBytes = Number(request.headers.get('content-length') ?? 0);
  }

  /**
   * The blocks of the body in order. Whoever stops before the end has the rest read and thrown away for a while: to break
   * off would cut the connection before the sender has heard why.
   * @throws {Refusal} where the body is too long, or nothing comes for too long
   */
  async *[Symbol.asyncIterator](): AsyncGenerator<Uint8Array> {
    const { reader } = this;
    if (!reader) return;
    let bytes = 0;
    let isWhole = false;
    let pending: Promise<ReadableStreamReadResult<Uint8Array>> | undefined;
    try {
      if (this.declaredBytes > this.limits.mostBytes) throw this.tooLong();
      for (;;) {
        pending = reader.read();
        const next = await this.orSilence(pending);
        if (next === 'given up') return;
        pending = undefined;
        if (next.done) break;
        bytes += next.value.length;
        if (bytes > this.limits.mostBytes) throw this.tooLong();
        yield next.value;
      }
      isWhole = true;
    } finally {
      if (!isWhole) void drain(reader, pending);
    }
  }

  /** No more of it is wanted: whoever reads it finds its end. */
  abandon(): void {
    this.isGivenUp = true;
    this.giveUpWaiting();
  }

  /**
   * Waits for what is read, for silence, or for being abandoned. Not by a race with a promise that lives as long as the body:
   * that would hold on to all that was ever read.
   */
  private orSilence<Result>(read: Promise<Result>): Promise<Result | 'given up'> {
    if (this.isGivenUp) return Promise.resolve('given up');
    const { silenceMs } = this.limits;
    return new Promise((resolve, reject) => {
      const timer = setTimeout(
        () => reject(refuse('sender-silent', `No data arrived for ${silenceMs / 1000} seconds. Send it again.`)),
        silenceMs,
      );
      this.giveUpWaiting = () => {
        clearTimeout(timer);
        resolve('given up');
      };
      read.then(
        (result) => {
          clearTimeout(timer);
          resolve(result);
        },
        (error: unknown) => {
          clearTimeout(timer);
          reject(error as Error);
        },
      );
    });
  }

  private tooLong(): Refusal {
    const most = this.limits.mostBytes / 2 ** 20;
    return refuse('too-large', `This takes at most ${most.toLocaleString('en')} MB.`);
  }
}

async function drain(
  reader: ReadableStreamDefaultReader<Uint8Array>,
  pending: Promise<ReadableStreamReadResult<Uint8Array>> | undefined,
): Promise<void> {
  const until = Date.now() + DRAINED_MS;
  let bytes = 0;
  try {
    for (let next = await (pending ?? reader.read()); !next.done; next = await reader.read()) {
      bytes += next.value.length;
      if (bytes > DRAINED_BYTES || Date.now() > until) return await reader.cancel();
    }
  } catch (error) {
    log.debug({ err: error }, 'the sender has gone');
  }
}

/** The JSON body of a request. @throws {Refusal} for one that is none, or too long */
export async function jsonBody(request: Request, limits: BodyLimits): Promise<unknown> {
  const type = request.headers.get('content-type');
  // a form of another site can send text, but not this type
  if (!/^application\/([\w.-]+\+)?json\b/i.test(type ?? ''))
    throw refuse(
      'wrong-type',
      `The body is ${type?.slice(0, 60) ?? 'of no type'}. Send it as content-type: application/json.`,
    );
  const parts: Uint8Array[] = [];
  for await (const part of new RequestBody(request, limits)) parts.push(part);
  try {
    return JSON.parse(Buffer.concat(parts).toString()) as unknown;
  } catch (error) {
    throw refuse('invalid-body', 'The body is no JSON.', {}, { cause: error });
  }
}
