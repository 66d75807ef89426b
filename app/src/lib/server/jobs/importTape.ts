import { createHash } from 'node:crypto';
import { join, resolve } from 'node:path';
import { Worker } from 'node:worker_threads';
import { refuse, Refusal } from '$lib/api/problems';
import { log } from '../log';
import { settings } from '../settings';
import type { FromImport, ImportOrder, ToImport } from './importProtocol';

/** Blocks that may be on their way to the thread: enough to keep it busy, too few to fill the memory. */
const BLOCKS_AHEAD = 8;
/** Network reads are small: they are gathered to blocks of this many bytes. */
const BLOCK_BYTES = 1 << 18;

/**
 * A thread that waits for the next import: to start one takes as long as to read a million records. The one that has
 * just entered a file is kept, since its code is warm.
 */
let ready: Worker | undefined;

export function keepThreadReady(
  thread = ready ?? new Worker(join(resolve(settings.JAUNTY_JOBS), 'importJob.js')),
): void {
  if (ready && ready !== thread) return void thread.terminate();
  thread.unref(); // it keeps no server from ending
  const gone = () => {
    if (ready === thread) ready = undefined;
  };
  thread.once('exit', gone);
  thread.once('error', (error) => {
    gone();
    log.error({ err: error }, 'a thread that waited for an import failed');
  });
  ready = thread;
}

function takeThread(): Worker {
  keepThreadReady();
  const thread = ready!;
  ready = undefined;
  forget(thread);
  thread.ref();
  return thread;
}

/** Whoever had a thread hears no more of it. Not of all events: the thread has listeners of its own on the others. */
function forget(thread: Worker): void {
  for (const event of ['message', 'error', 'exit']) thread.removeAllListeners(event);
}

/**
 * Streams a file into the store through a thread of its own.
 * @param progress  told the bytes sent and the records read so far
 * @returns         names of the tapes
 * @throws {Refusal} where the file is refused, breaks off, or the caller gives up; nothing is entered then
 */
export async function importTape(
  body: ReadableStream<Uint8Array>,
  order: Omit<ImportOrder, 'folder' | 'now'>,
  signal: AbortSignal,
  progress: (bytes: number, rows: number) => void,
): Promise<string[]> {
  const worker = takeThread();
  const send = (message: ToImport, transfer: ArrayBuffer[] = []) => worker.postMessage(message, transfer);
  send({ kind: 'begin', order: { ...order, folder: settings.JAUNTY_DATA, now: Date.now() * 1000 } });
  let ahead = 0;
  let bytes = 0;
  let isOver = false;
  let goOn = () => {};
  const spare: ArrayBuffer[] = [];
  const outcome = new Promise<string[]>((done, failed) => {
    worker.on('message', (message: FromImport) => {
      switch (message.kind) {
        case 'taken':
          ahead--;
          if (message.block) spare.push(message.block);
          progress(bytes, message.rows);
          return goOn();
        case 'entered':
          return done(message.names);
        case 'failed':
          return failed(new Refusal(message.problem));
        case 'stopped':
          return failed(
            refuse('broken-body', 'The file broke off before its end. Nothing was entered; send it again.'),
          );
        default:
          message satisfies never;
      }
    });
    worker.on('error', failed);
    worker.on('exit', () => failed(new Error('the import ended without an answer')));
  });
  const stop = () => send({ kind: 'stop' });
  signal.addEventListener('abort', stop);
  const over = (isEntered: boolean) => {
    isOver = true;
    goOn();
    signal.removeEventListener('abort', stop); // the thread may soon be at another import
    forget(worker);
    if (!isEntered) void worker.terminate(); // who knows what is still on its way to it
    keepThreadReady(isEntered ? worker : undefined);
  };
  outcome.then(
    () => over(true),
    () => over(false),
  );
  const hash = createHash('sha256');
  try {
    for await (const block of inBlocks(body, spare)) {
      if (isOver) break;
      bytes += block.length;
      hash.update(block); // here, since the thread has enough to do
      send({ kind: 'bytes', bytes: block }, [block.buffer]);
      if (++ahead >= BLOCKS_AHEAD && !isOver) await new Promise<void>((resolve) => (goOn = resolve));
    }
    send({ kind: 'end', bytes, sha256: hash.digest('hex') });
  } catch {
    stop(); // the body broke off; the answer says so
  }
  return outcome;
}

/** Not cleared: it is filled before it is read. One that has come back spares the memory, and its collection. */
const emptyBlock = (spare: ArrayBuffer[]): Uint8Array<ArrayBuffer> =>
  new Uint8Array(spare.pop() ?? Buffer.allocUnsafeSlow(BLOCK_BYTES).buffer);

/** A sender that was refused is heard out so long, so that it hears the answer. */
const DRAINED_MS = 30_000;

async function* inBlocks(
  body: ReadableStream<Uint8Array>,
  spare: ArrayBuffer[],
): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const reader = body.getReader();
  let block = emptyBlock(spare);
  let filled = 0;
  let isWhole = false;
  try {
    for (;;) {
      const { done, value: part } = await reader.read();
      if (done) break;
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
    }
    isWhole = true;
    if (filled > 0) yield block.slice(0, filled);
  } finally {
    if (!isWhole) void drain(reader);
  }
}

/** Reads on and lets go. To break off would cut the connection before the answer is through. */
async function drain(reader: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
  const until = Date.now() + DRAINED_MS;
  try {
    while (Date.now() < until) if ((await reader.read()).done) return;
    await reader.cancel();
  } catch {
    return; // the sender has gone
  }
}
