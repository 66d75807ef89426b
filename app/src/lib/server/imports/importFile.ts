import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { refuse, Refusal } from '$lib/api/problems';
import { log } from '../log';
import { settings } from '../settings';
import { THREAD_LIMITS, threadFailure } from '../threadLimits';
import type { FromImport, ImportId, ImportOrder, ToImport } from './importProtocol';

/** Blocks that may be on their way to a thread: enough to keep it busy, too few to fill the memory. */
const BLOCKS_AHEAD = 8;
/** Network reads are small: they are gathered to blocks of this many bytes. */
const BLOCK_BYTES = 1 << 18;
/** Slow senders share a thread; so a few are enough, however many send. */
const MOST_THREADS = 2;

/** An import that was stopped and goes on is ended with its thread after this time. */
const STOPPED_WITHIN_MS = 5000;

/** A file as it comes; what is not wanted of it any more is given up. */
interface ImportBody extends AsyncIterable<Uint8Array> {
  abandon: () => void;
}

/** An import from the side of the server. */
interface InHand {
  taken: (rows: number, block: ArrayBuffer | undefined) => void;
  ended: (outcome: Exclude<FromImport, { kind: 'taken' }>) => void;
  failed: (error: unknown) => void;
}

class ImportThread {
  readonly inHand = new Map<ImportId, InHand>();
  private readonly worker = new Worker(join(resolve(settings.JAUNTY_JOBS), 'importThread.js'), THREAD_LIMITS);
  private failure: unknown = new Error('the import ended without an answer');
  readonly ended: Promise<void>;

  constructor() {
    this.worker.unref(); // it keeps no server from ending
    this.worker.on('message', (message: FromImport) => {
      const one = this.inHand.get(message.id);
      if (message.kind === 'taken') return one?.taken(message.rows, message.block);
      this.inHand.delete(message.id);
      if (this.inHand.size === 0) this.worker.unref();
      one?.ended(message);
    });
    this.worker.on('error', (error) => {
      this.failure = threadFailure(error);
      log.error({ err: error }, 'a thread of imports failed');
    });
    this.ended = new Promise((resolve) =>
      this.worker.once('exit', () => {
        threads.delete(this);
        for (const one of this.inHand.values()) one.failed(this.failure);
        resolve();
      }),
    );
  }

  begin(id: ImportId, order: ImportOrder, one: InHand): void {
    this.worker.ref();
    this.inHand.set(id, one);
    this.send({ kind: 'begin', id, order });
  }

  /** Stops an import. A thread of this import alone that does not answer is ended: a parser may be busy for long. */
  stop(id: ImportId): void {
    this.send({ kind: 'stop', id });
    const endBusyThread = () => {
      if (this.inHand.has(id) && this.inHand.size === 1) void this.worker.terminate();
    };
    setTimeout(endBusyThread, STOPPED_WITHIN_MS).unref();
  }

  send(message: ToImport, transfer: ArrayBuffer[] = []): void {
    this.worker.postMessage(message, transfer);
  }
}

const threads = new Set<ImportThread>();
let lastId: ImportId = 0;

/** Starts a thread, so that the first file finds it running: to start one takes as long as to read a million records. */
export function openImports(): void {
  if (threads.size === 0) threads.add(new ImportThread());
}

/** What was written to the store is settled so long after the last write. */
const SETTLE_AFTER_MS = 5000;
let settling: ReturnType<typeof setTimeout> | undefined;

/** Has one of the threads settle what this one has written: it takes the thread that does it for a while. */
export function settleSoon(): void {
  settling ??= setTimeout(() => {
    settling = undefined;
    openImports();
    const [thread] = threads;
    thread.send({ kind: 'settle' });
  }, SETTLE_AFTER_MS).unref();
}

/** Stops all imports and ends the threads. */
export async function closeImports(): Promise<void> {
  const all = [...threads];
  for (const thread of all) thread.send({ kind: 'close' });
  await Promise.all(all.map(({ ended }) => ended));
}

/** The thread with the fewest imports in hand; a new one where all have some and there may be more. */
function freestThread(): ImportThread {
  const [freest] = [...threads].sort((a, b) => a.inHand.size - b.inHand.size);
  if (freest && (freest.inHand.size === 0 || threads.size >= MOST_THREADS)) return freest;
  const thread = new ImportThread();
  threads.add(thread);
  return thread;
}

/** Files that are being entered. */
export const importsInHand = (): number => [...threads].reduce((sum, { inHand }) => sum + inHand.size, 0);

/**
 * Streams a file into the store through a thread.
 * @param body      the file's bytes; where they are refused, so is the import
 * @param progress  told the bytes sent and the records read so far
 * @returns         names of the tapes
 * @throws {Refusal} where the file is refused, breaks off, or the caller gives up; nothing is entered then
 */
export async function importFile(
  body: ImportBody,
  order: ImportOrder,
  signal: AbortSignal,
  progress: (bytes: number, rows: number) => void,
): Promise<string[]> {
  if (importsInHand() >= settings.limits.imports)
    throw refuse('too-busy', `${settings.limits.imports} files are being entered. Try again when some of them are in.`);
  const thread = freestThread();
  const id = ++lastId;
  let ahead = 0;
  let bytes = 0;
  let isOver = false;
  let goOn = () => {};
  const spare: ArrayBuffer[] = [];
  const outcome = new Promise<string[]>((done, failed) => {
    thread.begin(id, order, {
      taken: (rows, block) => {
        ahead--;
        if (block) spare.push(block);
        progress(bytes, rows);
        goOn();
      },
      ended: (message) => {
        if (message.kind === 'entered') return done(message.names);
        if (message.kind === 'failed') return failed(new Refusal(message.problem));
        failed(refuse('broken-body', 'The file broke off before its end. Nothing was entered; send it again.'));
      },
      failed,
    });
  });
  const stop = () => thread.stop(id);
  signal.addEventListener('abort', stop);
  const over = () => {
    isOver = true;
    goOn();
    body.abandon();
    signal.removeEventListener('abort', stop);
  };
  outcome.then(over, over);
  const hash = createHash('sha256');
  const send = async () => {
    for await (const block of inBlocks(body, spare)) {
      if (isOver) return;
      bytes += block.length;
      hash.update(block); // here, since the thread has enough to do
      thread.send({ kind: 'bytes', id, bytes: block }, [block.buffer]);
      if (++ahead >= BLOCKS_AHEAD && !isOver) await new Promise<void>((resolve) => (goOn = resolve));
    }
    if (!isOver) thread.send({ kind: 'end', id, bytes, sha256: hash.digest('hex') });
  };
  let refusal: unknown;
  const sent = send().catch((error: unknown) => {
    // a body that is too long or falls silent is refused as such; one that broke off is told of by the outcome
    if (error instanceof Refusal) refusal = error;
    stop();
  });
  try {
    const names = await outcome;
    await sent;
    return names;
  } catch (error) {
    throw refusal ?? error;
  }
}

/** Not cleared: it is filled before it is read. One that has come back spares the memory, and its collection. */
const emptyBlock = (spare: ArrayBuffer[]): Uint8Array<ArrayBuffer> =>
  new Uint8Array(spare.pop() ?? Buffer.allocUnsafeSlow(BLOCK_BYTES).buffer);

async function* inBlocks(
  body: AsyncIterable<Uint8Array>,
  spare: ArrayBuffer[],
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  let block = emptyBlock(spare);
  let filled = 0;
  for await (const part of body)
    for (let from = 0; from < part.length;) {
      const taken = Math.min(part.length - from, BLOCK_BYTES - filled);
      block.set(part.subarray(from, from + taken), filled);
      filled += taken;
      from += taken;
      if (filled < BLOCK_BYTES) continue;
      yield block;
      block = emptyBlock(spare);
      filled = 0;
    }
  if (filled > 0) yield block.slice(0, filled);
}
